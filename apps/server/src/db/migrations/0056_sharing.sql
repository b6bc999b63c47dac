ALTER TABLE "sync_link" ADD COLUMN "waits_for" text;--> statement-breakpoint
CREATE INDEX "sync_link_waits" ON "sync_link" USING btree ("connection_id","waits_for") WHERE waits_for is not null;