CREATE TABLE "returned_mail" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "returned_mail_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"address_key" bigint NOT NULL,
	"address" text NOT NULL,
	"came_back" boolean NOT NULL,
	"how" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"run_id" integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX "returned_mail_address" ON "returned_mail" USING btree ("address_key");