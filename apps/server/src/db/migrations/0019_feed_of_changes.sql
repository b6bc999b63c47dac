CREATE TABLE "match_due" (
	"contact_id" bigint PRIMARY KEY NOT NULL,
	"run_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "change" (
	"seq" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "change_seq_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"txid" bigint DEFAULT txid_current() NOT NULL,
	"kind" text NOT NULL,
	"run_id" integer NOT NULL,
	"actor_id" integer,
	"contacts" bigint[] NOT NULL,
	"versions" integer[] NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "feed_consumer" (
	"name" text PRIMARY KEY NOT NULL,
	"txid" bigint NOT NULL,
	"seq" bigint NOT NULL,
	"place" integer NOT NULL,
	"failures" integer DEFAULT 0 NOT NULL,
	"error" text,
	"failing_since" timestamp with time zone,
	"next_try_at" timestamp with time zone
);
--> statement-breakpoint
DROP INDEX "operation_txid";--> statement-breakpoint
DROP INDEX "permission_txid";--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "attempts" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX "change_order" ON "change" USING btree ("txid","seq");--> statement-breakpoint
ALTER TABLE "connection" DROP COLUMN "our_cursor";