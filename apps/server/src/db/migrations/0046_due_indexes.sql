DROP INDEX "activity_due";--> statement-breakpoint
CREATE INDEX "contact_facts_bday" ON "contact_facts" USING btree ((right(facts->>'bday', 5) collate "C")) WHERE who = 1 and facts ? 'bday';--> statement-breakpoint
CREATE INDEX "contact_facts_anniversary" ON "contact_facts" USING btree ((right(facts->>'anniversary', 5) collate "C")) WHERE who = 1 and facts ? 'anniversary';--> statement-breakpoint
CREATE INDEX "activity_due" ON "activity" USING btree ("who","kind","at") WHERE is_open and not gone;