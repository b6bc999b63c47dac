CREATE TABLE "stored_file" (
	"hash" text PRIMARY KEY NOT NULL,
	"media_type" text NOT NULL,
	"size" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	"kept_at" timestamp with time zone DEFAULT now() NOT NULL
);
