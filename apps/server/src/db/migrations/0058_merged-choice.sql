CREATE TABLE "merged_choice" (
	"contact_id" bigint PRIMARY KEY NOT NULL,
	"merge_run" integer NOT NULL,
	"take" text NOT NULL,
	"run_id" integer NOT NULL
);
