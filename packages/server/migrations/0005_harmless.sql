CREATE TABLE "harmless" (
	"id" serial PRIMARY KEY NOT NULL,
	"key" text NOT NULL,
	"reason" text NOT NULL,
	"of_shot" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "harmless" ADD CONSTRAINT "harmless_of_shot_shots_id_fk" FOREIGN KEY ("of_shot") REFERENCES "public"."shots"("id") ON DELETE cascade ON UPDATE no action;