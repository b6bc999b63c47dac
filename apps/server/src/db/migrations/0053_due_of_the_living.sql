DROP INDEX "activity_due";--> statement-breakpoint
CREATE INDEX "contact_gone" ON "contact" USING btree ("id") WHERE state in ('deleted', 'erased');--> statement-breakpoint
CREATE INDEX "activity_due" ON "activity" USING btree ("who","kind","at","id","holder_id") WHERE is_open and not gone;