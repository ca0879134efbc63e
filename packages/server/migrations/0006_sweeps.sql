CREATE TABLE "sweeps" (
	"id" serial PRIMARY KEY NOT NULL,
	"of_shot" integer NOT NULL,
	"use" text NOT NULL,
	"region" jsonb NOT NULL,
	"axes" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "proofs" ADD COLUMN "sweep" integer;--> statement-breakpoint
ALTER TABLE "sweeps" ADD CONSTRAINT "sweeps_of_shot_shots_id_fk" FOREIGN KEY ("of_shot") REFERENCES "public"."shots"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "proofs" ADD CONSTRAINT "proofs_sweep_sweeps_id_fk" FOREIGN KEY ("sweep") REFERENCES "public"."sweeps"("id") ON DELETE cascade ON UPDATE no action;