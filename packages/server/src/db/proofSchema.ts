import {
  boolean,
  index,
  type AnyPgColumn,
  integer,
  jsonb,
  pgSequence,
  pgTable,
  primaryKey,
  real,
  serial,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { RenderKind, RenderPurpose } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import type { FilmExtra, PackedTallies, RenderStatistics, SceneMemory } from '@dusting/core/render';
import type { LargeTexture } from '@dusting/core/shade';
import type { Patch, RenderSettings, SettingsUse } from '@dusting/core/scene';
import { bytea } from './bytea.ts';
import { blobs } from './blobSchema.ts';
import { diagnoses } from './defectSchema.ts';
import { shots } from './shotSchema.ts';
import { sweeps } from './sweepSchema.ts';

export type ProofState = 'queued' | 'rendering' | 'merging' | 'done' | 'cancelled' | 'failed';
export type Prediction = { seconds: number | null; noise: number | null };
export type LogLine = { at: string; level: 'note' | 'warning' | 'error'; text: string };

export const proofs = pgTable('proofs', {
  id: serial('id').primaryKey(),
  shot: integer('of_shot')
    .notNull()
    .references(() => shots.id, { onDelete: 'cascade' }),
  /** P1, P2 ... , T1, T2 ... and those of each purpose count by themselves. */
  number: integer('number').notNull(),
  kind: text('kind').$type<RenderKind>().notNull(),
  /** Of a diagnostic render. */
  purpose: text('purpose').$type<RenderPurpose>(),
  /** Kept beside the film. */
  extras: jsonb('extras').$type<FilmExtra[]>().notNull().default([]),
  /** Layers that its picture holds, as a pattern; null: all of them. */
  layers: text('layers'),
  revision: integer('revision').notNull(),
  /** Changes over that revision; none for a proof, those of the scene and the settings for the others. */
  patch: jsonb('patch').$type<Patch>().notNull(),
  /** For a trial: the proof that it is compared with. */
  before: integer('before'),
  sweep: integer('sweep').references(() => sweeps.id, { onDelete: 'cascade' }),
  diagnosis: integer('diagnosis').references((): AnyPgColumn => diagnoses.id, { onDelete: 'cascade' }),
  use: text('use').$type<SettingsUse>().notNull(),
  settings: jsonb('settings').$type<RenderSettings>().notNull(),
  region: jsonb('region').$type<Region>().notNull(),
  state: text('state').$type<ProofState>().notNull().default('queued'),
  /** Node that takes a first look at it, or puts it together. */
  node: text('node'),
  chunkCount: integer('chunk_count').notNull(),
  error: text('error'),
  /** What was expected when it was sent off. */
  predicted: jsonb('predicted').$type<Prediction>(),
  decision: text('decision').$type<'kept' | 'dropped'>(),
  reason: text('reason'),
  log: jsonb('log').$type<LogLine[]>().notNull().default([]),
  statistics: jsonb('statistics').$type<RenderStatistics>(),
  /** Of a node that rendered it. */
  memory: jsonb('memory').$type<SceneMemory>(),
  /** Those that are finer than anything shows, as a first look tells. */
  textures: jsonb('textures').$type<LargeTexture[]>(),
  noise: real('noise'),
  /** Work of all threads over the number of threads of the node that put it together: what the frame takes on that machine. */
  seconds: real('seconds'),
  blob: text('blob').references(() => blobs.id),
  /** Small picture, RGB halves, a quarter of the size: a quick look first, the means of the proof at the end. */
  coarse: bytea('coarse'),
  /** Number of the frame, of a sequence that was brought in. */
  frame: integer('frame'),
  note: text('note').notNull().default(''),
  pinned: boolean('pinned').notNull().default(false),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  startedAt: timestamp('started_at', { withTimezone: true }),
  finishedAt: timestamp('finished_at', { withTimezone: true }),
});

/** Counts finished chunks. */
export const chunkOrder = pgSequence('chunk_order', { maxValue: 2147483647, cycle: true });

export const chunks = pgTable(
  'chunks',
  {
    proof: integer('proof')
      .notNull()
      .references(() => proofs.id, { onDelete: 'cascade' }),
    place: integer('place').notNull(),
    region: jsonb('region').$type<Region>().notNull(),
    sampleStart: integer('sample_start').notNull(),
    sampleCount: integer('sample_count').notNull(),
    priority: integer('priority').notNull(),
    done: boolean('done').notNull().default(false),
    node: text('node'),
    milliseconds: real('milliseconds'),
    /** Order of completion over all proofs, for those who follow the progress. */
    doneOrder: integer('done_order'),
    /** Sums of all film slots (core/render/packedFilm.ts). */
    film: bytea('film'),
    /** Where the render keeps account of its paths. */
    paths: jsonb('paths').$type<PackedTallies>(),
    /** Sums of beauty R, G, B, little-endian floats. */
    picture: bytea('picture'),
  },
  (table) => [
    primaryKey({ columns: [table.proof, table.place] }),
    index('chunks_waiting').on(table.done, table.node, table.priority, table.proof, table.place),
  ],
);

/** Processes that render. One that has not been seen for some seconds is taken for dead. */
export const nodes = pgTable('nodes', {
  id: text('id').primaryKey(),
  threads: integer('threads').notNull(),
  seenAt: timestamp('seen_at', { withTimezone: true }).notNull().defaultNow(),
});
