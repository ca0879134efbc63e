import { integer, jsonb, pgTable, primaryKey, serial, text, timestamp } from 'drizzle-orm/pg-core';
import type { LayerMapping, LayerRole } from '@dusting/core/frames';
import type { Patch, ShotDocument } from '@dusting/core/scene';
import type { Unsupported } from '@dusting/core/formats';

export const shots = pgTable('shots', {
  id: serial('id').primaryKey(),
  name: text('name').notNull().unique(),
  /** Number of the present revision. */
  revision: integer('revision').notNull(),
  /** Changes that are not kept yet. */
  slip: jsonb('slip').$type<Patch>().notNull().default([]),
  /** Counts the changes of slip and revision, and names the window that made the last one. */
  edits: integer('edits').notNull().default(0),
  editedBy: text('edited_by').notNull().default(''),
  unsupported: jsonb('unsupported').$type<Unsupported[]>().notNull().default([]),
  /** What the layers of its frames are, where it came as frames of another renderer; null: it has a scene. */
  mapping: jsonb('mapping').$type<LayerMapping>(),
  /** The last number of each kind of proof: none is given twice, whatever is deleted. */
  numbers: jsonb('numbers').$type<Record<string, number>>().notNull().default({}),
  /** Proof that every other is measured against: the approved look. */
  reference: integer('reference'),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

/** What users said that layers of a name are. */
export const layerNames = pgTable('layer_names', {
  name: text('name').primaryKey(),
  role: text('role').$type<LayerRole>().notNull(),
});

export const revisions = pgTable(
  'revisions',
  {
    shot: integer('of_shot')
      .notNull()
      .references(() => shots.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    document: jsonb('document').$type<ShotDocument>().notNull(),
    /** What led here from the revision before. */
    patch: jsonb('patch').$type<Patch>().notNull(),
    reason: text('reason').notNull(),
    note: text('note').notNull().default(''),
    /** What it changed, in words. */
    changes: jsonb('changes').$type<string[]>().notNull().default([]),
    createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.shot, table.number] })],
);
