CREATE TABLE "batch_target" (
	"run_id" integer NOT NULL,
	"contact_id" bigint NOT NULL,
	"before" text,
	CONSTRAINT "batch_target_run_id_contact_id_pk" PRIMARY KEY("run_id","contact_id")
);
