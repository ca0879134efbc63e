CREATE TABLE "log_patterns" (
	"id" serial PRIMARY KEY NOT NULL,
	"fact" text NOT NULL,
	"expression" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
