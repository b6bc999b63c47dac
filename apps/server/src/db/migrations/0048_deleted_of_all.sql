DROP INDEX "contact_deleted";--> statement-breakpoint
CREATE INDEX "contact_deleted" ON "contact" USING btree ("last_run") WHERE state = 'deleted';