import { customType, integer, json, pgTable, primaryKey, text, timestamp } from 'drizzle-orm/pg-core'
import type { Document } from '@calm-hand/core/document'

const bytes = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (value) => Buffer.from(value.buffer, value.byteOffset, value.byteLength),
  fromDriver: (value) => Uint8Array.from(value), // a copy: the driver's buffer is not aligned for doubles
})

/** The document is `json`, not `jsonb`: the order of bodies and loops is the engineer's, and sums follow it to the last bit. */
export const project = pgTable('project', {
  id: text().primaryKey(),
  document: json().$type<Document>().notNull(),
  revision: integer().notNull(),
  savedAt: timestamp('saved_at', { withTimezone: true }).notNull().defaultNow(),
})

/** Every saved state of a project, with the words of the edit that led to it. */
export const revision = pgTable(
  'revision',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => project.id, { onDelete: 'cascade' }),
    number: integer().notNull(),
    document: json().$type<Document>().notNull(),
    label: text().notNull(),
    savedAt: timestamp('saved_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.number] })],
)

/** A run by the content hash of what produced it; the record as packed columns. */
export const run = pgTable(
  'run',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => project.id, { onDelete: 'cascade' }),
    hash: text().notNull(),
    trial: text().notNull(),
    record: bytes().notNull(),
    madeAt: timestamp('made_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.hash] })],
)

/** Meshes by the hash of their content; the name's ending says the format. Shared by all projects. */
export const asset = pgTable('asset', {
  hash: text().primaryKey(),
  name: text().notNull(),
  content: bytes().notNull(),
  keptAt: timestamp('kept_at', { withTimezone: true }).notNull().defaultNow(),
})
