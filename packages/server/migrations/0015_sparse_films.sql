-- Films are packed before they come here: trying to compress them again takes longer than it saves.
ALTER TABLE "chunks" ALTER COLUMN "film" SET STORAGE EXTERNAL;--> statement-breakpoint
ALTER TABLE "chunks" ALTER COLUMN "picture" SET STORAGE EXTERNAL;--> statement-breakpoint
-- those of a render under way were packed otherwise, and are rendered again
UPDATE "chunks" SET "done" = false, "node" = null, "film" = null, "picture" = null, "paths" = null, "done_order" = null;--> statement-breakpoint
UPDATE "proofs" SET "state" = 'rendering', "node" = null WHERE "state" = 'merging';
