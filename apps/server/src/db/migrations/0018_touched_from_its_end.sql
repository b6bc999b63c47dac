DROP INDEX "contact_live_touched";--> statement-breakpoint
CREATE INDEX "contact_live_touched" ON "contact" USING btree ("touched_at","id") WHERE state = 'live' and kind = 'person';