CREATE TABLE "sign_in_try" (
	"kind" text NOT NULL,
	"key" text NOT NULL,
	"count" integer DEFAULT 1 NOT NULL,
	"since" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sign_in_try_kind_key_pk" PRIMARY KEY("kind","key")
);
