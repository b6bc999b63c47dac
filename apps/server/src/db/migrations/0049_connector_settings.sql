ALTER TABLE "connection" ADD COLUMN "settings" jsonb;--> statement-breakpoint
UPDATE "connection" SET "settings" = jsonb_build_object('address', "address", 'user', "user_name");--> statement-breakpoint
ALTER TABLE "connection" ALTER COLUMN "settings" SET NOT NULL;
