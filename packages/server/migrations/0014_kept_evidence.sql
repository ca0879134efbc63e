ALTER TABLE "diagnoses" ADD COLUMN "kept" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
-- Explanations of occlusion that were kept until now hold their hit distances in a form that is not read any more.
DELETE FROM "diagnoses" WHERE "key"->>'kind' = 'occlusion';
