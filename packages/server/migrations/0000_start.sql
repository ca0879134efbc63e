CREATE SEQUENCE "public"."chunk_order" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1 CYCLE;--> statement-breakpoint
CREATE TABLE "blob_pieces" (
	"blob" text NOT NULL,
	"place" integer NOT NULL,
	"data" "bytea" NOT NULL,
	CONSTRAINT "blob_pieces_blob_place_pk" PRIMARY KEY("blob","place")
);
--> statement-breakpoint
CREATE TABLE "blobs" (
	"id" text PRIMARY KEY NOT NULL,
	"bytes" integer NOT NULL,
	"media_type" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "revisions" (
	"of_shot" integer NOT NULL,
	"number" integer NOT NULL,
	"document" jsonb NOT NULL,
	"patch" jsonb NOT NULL,
	"reason" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "revisions_of_shot_number_pk" PRIMARY KEY("of_shot","number")
);
--> statement-breakpoint
CREATE TABLE "shots" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"revision" integer NOT NULL,
	"slip" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"unsupported" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "shots_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "chunks" (
	"proof" integer NOT NULL,
	"place" integer NOT NULL,
	"region" jsonb NOT NULL,
	"sample_start" integer NOT NULL,
	"sample_count" integer NOT NULL,
	"priority" integer NOT NULL,
	"done" boolean DEFAULT false NOT NULL,
	"node" text,
	"milliseconds" real,
	"done_order" integer,
	"film" "bytea",
	"picture" "bytea",
	CONSTRAINT "chunks_proof_place_pk" PRIMARY KEY("proof","place")
);
--> statement-breakpoint
CREATE TABLE "nodes" (
	"id" text PRIMARY KEY NOT NULL,
	"threads" integer NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "proofs" (
	"id" serial PRIMARY KEY NOT NULL,
	"of_shot" integer NOT NULL,
	"number" integer NOT NULL,
	"kind" text NOT NULL,
	"revision" integer NOT NULL,
	"patch" jsonb NOT NULL,
	"before" integer,
	"use" text NOT NULL,
	"settings" jsonb NOT NULL,
	"region" jsonb NOT NULL,
	"state" text DEFAULT 'queued' NOT NULL,
	"node" text,
	"chunk_count" integer NOT NULL,
	"error" text,
	"predicted" jsonb,
	"decision" text,
	"reason" text,
	"log" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"statistics" jsonb,
	"noise" real,
	"seconds" real,
	"blob" text,
	"coarse" "bytea",
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"started_at" timestamp with time zone,
	"finished_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "defects" (
	"id" serial PRIMARY KEY NOT NULL,
	"of_shot" integer NOT NULL,
	"number" integer NOT NULL,
	"kind" text NOT NULL,
	"region" jsonb NOT NULL,
	"frame" jsonb NOT NULL,
	"state" text DEFAULT 'open' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"seen_on" integer,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "diagnoses" (
	"id" serial PRIMARY KEY NOT NULL,
	"defect" integer NOT NULL,
	"proof" integer NOT NULL,
	"result" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "blob_pieces" ADD CONSTRAINT "blob_pieces_blob_blobs_id_fk" FOREIGN KEY ("blob") REFERENCES "public"."blobs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_of_shot_shots_id_fk" FOREIGN KEY ("of_shot") REFERENCES "public"."shots"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chunks" ADD CONSTRAINT "chunks_proof_proofs_id_fk" FOREIGN KEY ("proof") REFERENCES "public"."proofs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "proofs" ADD CONSTRAINT "proofs_of_shot_shots_id_fk" FOREIGN KEY ("of_shot") REFERENCES "public"."shots"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "proofs" ADD CONSTRAINT "proofs_blob_blobs_id_fk" FOREIGN KEY ("blob") REFERENCES "public"."blobs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "defects" ADD CONSTRAINT "defects_of_shot_shots_id_fk" FOREIGN KEY ("of_shot") REFERENCES "public"."shots"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "defects" ADD CONSTRAINT "defects_seen_on_proofs_id_fk" FOREIGN KEY ("seen_on") REFERENCES "public"."proofs"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "diagnoses" ADD CONSTRAINT "diagnoses_defect_defects_id_fk" FOREIGN KEY ("defect") REFERENCES "public"."defects"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "diagnoses" ADD CONSTRAINT "diagnoses_proof_proofs_id_fk" FOREIGN KEY ("proof") REFERENCES "public"."proofs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "chunks_waiting" ON "chunks" USING btree ("done","node","priority","proof","place");