CREATE TABLE "book_state" (
	"day" date PRIMARY KEY NOT NULL,
	"people" integer NOT NULL,
	"completeness" double precision NOT NULL,
	"fresh" integer NOT NULL
);
