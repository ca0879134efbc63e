import { type AnyPgColumn, boolean, integer, jsonb, pgTable, real, serial, text, timestamp } from 'drizzle-orm/pg-core';
import type { DefectKind, DiagnosisKey, DiagnosisState, Explanation } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import { proofs } from './proofSchema.ts';
import { shots } from './shotSchema.ts';

export type DefectState = 'open' | 'explained' | 'fixed' | 'accepted';

export const defects = pgTable('defects', {
  id: serial('id').primaryKey(),
  shot: integer('of_shot')
    .notNull()
    .references(() => shots.id, { onDelete: 'cascade' }),
  number: integer('number').notNull(),
  kind: text('kind').$type<DefectKind>().notNull(),
  region: jsonb('region').$type<Region>().notNull(),
  /** Size of the frame that the region is given in. */
  frame: jsonb('frame').$type<{ width: number; height: number }>().notNull(),
  state: text('state').$type<DefectState>().notNull().default('open'),
  note: text('note').notNull().default(''),
  /** Object that the user expects to be at work, by its id in the document. */
  expected: text('expected'),
  /** Taken away by the user, who may take that back. */
  removed: boolean('removed').notNull().default(false),
  seenOn: integer('seen_on').references(() => proofs.id, { onDelete: 'set null' }),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

export const diagnoses = pgTable('diagnoses', {
  id: serial('id').primaryKey(),
  defect: integer('defect')
    .notNull()
    .references(() => defects.id, { onDelete: 'cascade' }),
  proof: integer('proof')
    .notNull()
    .references((): AnyPgColumn => proofs.id, { onDelete: 'cascade' }),
  state: text('state').$type<DiagnosisState>().notNull().default('running'),
  /** 0..1, and what is being done. */
  progress: real('progress').notNull().default(0),
  stage: text('stage').notNull().default(''),
  /** Why it failed. */
  error: text('error'),
  /** What it read: where that changes, the answer is out of date. */
  key: jsonb('key').$type<DiagnosisKey>().notNull(),
  result: jsonb('result').$type<Explanation>(),
  /** Blobs that its evidence names. */
  kept: jsonb('kept').$type<string[]>().notNull().default([]),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});
