CREATE TABLE "account_remit" (
	"account_id" integer PRIMARY KEY NOT NULL,
	"owners" text[] NOT NULL,
	"sources" text[] NOT NULL,
	"tags" text[] NOT NULL,
	"areas" text[] NOT NULL
);
--> statement-breakpoint
ALTER TABLE "invitation" ADD COLUMN "remit" jsonb;--> statement-breakpoint
ALTER TABLE "account_remit" ADD CONSTRAINT "account_remit_account_id_account_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."account"("id") ON DELETE cascade ON UPDATE no action;