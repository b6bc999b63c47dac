CREATE TABLE "contact_search_fresh" (
	"contact_id" bigint PRIMARY KEY NOT NULL,
	"text" text NOT NULL
);
