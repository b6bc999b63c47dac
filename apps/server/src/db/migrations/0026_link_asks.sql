UPDATE "sync_link" SET "asks" = 'two' WHERE "asks_two";--> statement-breakpoint
UPDATE "sync_link" SET "band" = 'likely' WHERE "state" = 'asking';--> statement-breakpoint
ALTER TABLE "sync_link" DROP COLUMN "asks_two";