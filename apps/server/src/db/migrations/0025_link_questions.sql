ALTER TABLE "pick" ADD COLUMN "formerly" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "sync_link" ADD COLUMN "band" text;--> statement-breakpoint
ALTER TABLE "sync_link" ADD COLUMN "asks" text;--> statement-breakpoint
ALTER TABLE "sync_link" ADD COLUMN "unreadable" text;--> statement-breakpoint
ALTER TABLE "sync_link" ADD COLUMN "kept" text;