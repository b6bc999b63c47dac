CREATE TABLE "shared_line" (
	"line" text PRIMARY KEY NOT NULL,
	"run_id" integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE "match_group" ADD COLUMN "looked_by" integer;--> statement-breakpoint
ALTER TABLE "match_group" ADD COLUMN "looked_until" timestamp with time zone;