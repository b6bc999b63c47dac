CREATE TABLE "owner_turn" (
	"account_id" integer PRIMARY KEY NOT NULL,
	"given" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "owner_turn" ADD CONSTRAINT "owner_turn_account_id_account_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."account"("id") ON DELETE cascade ON UPDATE no action;