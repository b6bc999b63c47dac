ALTER TABLE "account" ADD COLUMN "calendar_hash" text;--> statement-breakpoint
ALTER TABLE "account" ADD CONSTRAINT "account_calendar_hash_unique" UNIQUE("calendar_hash");