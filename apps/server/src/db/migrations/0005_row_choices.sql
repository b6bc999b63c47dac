CREATE TABLE "row_choice" (
	"intake_id" integer NOT NULL,
	"row" integer NOT NULL,
	"choice" jsonb NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "row_choice_intake_id_row_pk" PRIMARY KEY("intake_id","row")
);
--> statement-breakpoint
ALTER TABLE "row_choice" ADD CONSTRAINT "row_choice_intake_id_intake_id_fk" FOREIGN KEY ("intake_id") REFERENCES "public"."intake"("id") ON DELETE cascade ON UPDATE no action;