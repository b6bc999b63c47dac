DROP INDEX "tally_kind";--> statement-breakpoint
DELETE FROM "tally";--> statement-breakpoint
ALTER TABLE "contact" ADD COLUMN "list_name" text NOT NULL DEFAULT '';--> statement-breakpoint
UPDATE "contact" SET "list_name" = CASE
  WHEN "kind" = 'person' AND "record"->'f'->'familyName'->0->>'v' <> ''
  THEN concat_ws(', ', "record"->'f'->'familyName'->0->>'v', "record"->'f'->'givenName'->0->>'v')
  ELSE "display_name" END;--> statement-breakpoint
ALTER TABLE "contact" ALTER COLUMN "list_name" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "tally" ADD COLUMN "who" text NOT NULL;--> statement-breakpoint
CREATE INDEX "tally_kind" ON "tally" USING btree ("kind","label","who");--> statement-breakpoint
INSERT INTO "tally" ("kind", "label", "who", "n")
  SELECT 'live', '', "kind", count(*)::int FROM "contact" WHERE "state" = 'live' GROUP BY "kind"
  UNION ALL SELECT 'tag', tag, "kind", count(*)::int FROM "contact", unnest("tags") tag WHERE "state" = 'live' GROUP BY tag, "kind"
  UNION ALL SELECT 'source', "source", "kind", count(*)::int FROM "contact" WHERE "state" = 'live' AND "source" <> '' GROUP BY "source", "kind"
  UNION ALL SELECT 'stage', "stage", "kind", count(*)::int FROM "contact" WHERE "state" = 'live' AND "stage" <> '' GROUP BY "stage", "kind"
  UNION ALL SELECT 'owner', "owner", "kind", count(*)::int FROM "contact" WHERE "state" = 'live' AND "owner" <> '' GROUP BY "owner", "kind"
  UNION ALL SELECT 'area', "area", "kind", count(*)::int FROM "contact" WHERE "state" = 'live' AND "area" <> '' GROUP BY "area", "kind";
