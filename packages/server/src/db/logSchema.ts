import { integer, pgTable, serial, text, timestamp } from 'drizzle-orm/pg-core';
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
