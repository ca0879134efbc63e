-- answers of the form before are asked for again
DELETE FROM "diagnoses";--> statement-breakpoint
ALTER TABLE "diagnoses" ALTER COLUMN "result" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "chunks" ADD COLUMN "paths" jsonb;--> statement-breakpoint
ALTER TABLE "proofs" ADD COLUMN "purpose" text;--> statement-breakpoint
ALTER TABLE "proofs" ADD COLUMN "extras" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "proofs" ADD COLUMN "diagnosis" integer;--> statement-breakpoint
ALTER TABLE "diagnoses" ADD COLUMN "state" text DEFAULT 'running' NOT NULL;--> statement-breakpoint
ALTER TABLE "diagnoses" ADD COLUMN "progress" real DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "diagnoses" ADD COLUMN "stage" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "diagnoses" ADD COLUMN "error" text;--> statement-breakpoint
ALTER TABLE "diagnoses" ADD COLUMN "key" jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "proofs" ADD CONSTRAINT "proofs_diagnosis_diagnoses_id_fk" FOREIGN KEY ("diagnosis") REFERENCES "public"."diagnoses"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
UPDATE "proofs" SET "purpose" = "kind", "kind" = 'diagnostic' WHERE "kind" IN ('pilot', 'sweep');
