CREATE TABLE "remit_tally" (
	"account_id" integer NOT NULL,
	"kind" text NOT NULL,
	"label" text NOT NULL,
	"who" text NOT NULL,
	"n" integer NOT NULL
);
--> statement-breakpoint
ALTER TABLE "account_remit" ADD COLUMN "changed_at" timestamp with time zone DEFAULT now() NOT NULL;--> statement-breakpoint
CREATE INDEX "remit_tally_account" ON "remit_tally" USING btree ("account_id","kind","label","who");