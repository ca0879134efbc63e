import { integer, jsonb, pgTable, serial, text, timestamp } from 'drizzle-orm/pg-core';
import type { Region } from '@dusting/core/image';
import type { SweepAxis } from '@dusting/core/plan';
import type { SettingsUse } from '@dusting/core/scene';
import { shots } from './shotSchema.ts';

/** Rows of trials over the values of one parameter, or of two. */
export const sweeps = pgTable('sweeps', {
  id: serial('id').primaryKey(),
  shot: integer('of_shot')
    .notNull()
    .references(() => shots.id, { onDelete: 'cascade' }),
  use: text('use').$type<SettingsUse>().notNull(),
  region: jsonb('region').$type<Region>().notNull(),
  axes: jsonb('axes').$type<SweepAxis[]>().notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});
