CREATE TABLE "match_decision" (
	"run_id" integer NOT NULL,
	"a" bigint NOT NULL,
	"b" bigint NOT NULL,
	"same" boolean NOT NULL,
	"levels" smallint[] NOT NULL,
	"bits" real NOT NULL,
	CONSTRAINT "match_decision_run_id_a_b_pk" PRIMARY KEY("run_id","a","b")
);
