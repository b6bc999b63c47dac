ALTER TABLE "sync_result" ADD COLUMN "of_id" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sync_result" ADD COLUMN "subject" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "sync_result" ADD COLUMN "link" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "connection" ADD COLUMN "lists_from" timestamp with time zone;--> statement-breakpoint
CREATE INDEX "segment_event_at" ON "segment_event" USING btree ("segment_id","at");