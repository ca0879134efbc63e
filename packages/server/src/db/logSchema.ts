import { integer, pgTable, serial, text, timestamp } from 'drizzle-orm/pg-core';
import type { LogPatternKind } from '@dusting/core/frames';
import { shots } from './shotSchema.ts';

/** Messages of logs that were said to be harmless. */
export const harmless = pgTable('harmless', {
  id: serial('id').primaryKey(),
  /** The words that its lines share: logKey. */
  key: text('key').notNull(),
  reason: text('reason').notNull(),
  /** null: in every shot of the house. */
  shot: integer('of_shot').references(() => shots.id, { onDelete: 'cascade' }),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

/** How the logs of the house speak, beside the patterns that are built in. */
export const logPatterns = pgTable('log_patterns', {
  id: serial('id').primaryKey(),
  fact: text('fact').$type<LogPatternKind>().notNull(),
  expression: text('expression').notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});
