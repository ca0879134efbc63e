import { integer, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core';
import { bytea } from './bytea.ts';

/** Files by the SHA-256 of their bytes, in pieces. */
export const blobs = pgTable('blobs', {
  id: text('id').primaryKey(),
  bytes: integer('bytes').notNull(),
  mediaType: text('media_type').notNull(),
  createdAt: timestamp('created_at', { withTimezone: true }).notNull().defaultNow(),
});

export const blobPieces = pgTable(
  'blob_pieces',
  {
    blob: text('blob')
      .notNull()
      .references(() => blobs.id, { onDelete: 'cascade' }),
    place: integer('place').notNull(),
    data: bytea('data').notNull(),
  },
  (table) => [primaryKey({ columns: [table.blob, table.place] })],
);
