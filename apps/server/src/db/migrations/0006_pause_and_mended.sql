ALTER TABLE "import_row" ADD COLUMN "settled_by" integer;--> statement-breakpoint
ALTER TABLE "intake" ADD COLUMN "mends" integer;--> statement-breakpoint
ALTER TABLE "run" ADD COLUMN "pause_requested" boolean DEFAULT false NOT NULL;