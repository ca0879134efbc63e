CREATE TABLE "layer_names" (
	"name" text PRIMARY KEY NOT NULL,
	"role" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "mapping" jsonb;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "reference" integer;--> statement-breakpoint
ALTER TABLE "proofs" ADD COLUMN "frame" integer;--> statement-breakpoint
ALTER TABLE "proofs" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "proofs" ADD COLUMN "pinned" boolean DEFAULT false NOT NULL;