ALTER TABLE "shots" ADD COLUMN "numbers" jsonb DEFAULT '{}'::jsonb NOT NULL;
--> statement-breakpoint
UPDATE "shots" SET "numbers" = last."of_kind" FROM (
  SELECT "of_shot", jsonb_object_agg("kind", "number") AS "of_kind"
  FROM (SELECT "of_shot", "kind", max("number") AS "number" FROM "proofs" GROUP BY "of_shot", "kind") AS kinds
  GROUP BY "of_shot"
) AS last WHERE last."of_shot" = "shots"."id";
