ALTER TABLE "defects" ADD COLUMN "expected" text;--> statement-breakpoint
-- answers of before were given with no object named
UPDATE "diagnoses" SET "key" = "key" || '{"expected": null}'::jsonb;
