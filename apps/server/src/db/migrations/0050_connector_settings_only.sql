ALTER TABLE "connection" DROP COLUMN "address";--> statement-breakpoint
ALTER TABLE "connection" DROP COLUMN "user_name";