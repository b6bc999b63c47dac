CREATE TABLE "contact_look" (
	"contact_id" bigint NOT NULL,
	"account_id" integer NOT NULL,
	"until" timestamp with time zone NOT NULL,
	CONSTRAINT "contact_look_contact_id_account_id_pk" PRIMARY KEY("contact_id","account_id")
);
--> statement-breakpoint
ALTER TABLE "contact_look" ADD CONSTRAINT "contact_look_account_id_account_id_fk" FOREIGN KEY ("account_id") REFERENCES "public"."account"("id") ON DELETE cascade ON UPDATE no action;