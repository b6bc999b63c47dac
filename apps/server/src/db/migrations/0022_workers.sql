CREATE TABLE "worker_sign" (
	"id" uuid PRIMARY KEY NOT NULL,
	"seen_at" timestamp with time zone NOT NULL
);
