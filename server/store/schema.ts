import {
  bigint,
  boolean,
  customType,
  foreignKey,
  index,
  integer,
  json,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core'
import type { Document } from '@calm-hand/core/document'

const bytes = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (value) => Buffer.from(value.buffer, value.byteOffset, value.byteLength),
  fromDriver: (value) => Uint8Array.from(value), // a copy: the driver's buffer is not aligned for doubles
})

const moment = (name: string) => timestamp(name, { withTimezone: true })

/** The document is `json`, not `jsonb`: the order of bodies and loops is the engineer's, and sums follow it to the last bit. */
export const project = pgTable('project', {
  id: text().primaryKey(),
  document: json().$type<Document>().notNull(),
  revision: integer().notNull(),
  savedAt: moment('saved_at').notNull().defaultNow(),
  /** The id of the save that made this revision: the same save sent again is known by it. */
  saveId: text('save_id'),
  /** In the bin since then; nothing while it is in the Yard. */
  binnedAt: moment('binned_at'),
})

/** Saved states of a project, with the words of the edit that led to each; thinned with time, see `thinHistory`. */
export const revision = pgTable(
  'revision',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => project.id, { onDelete: 'cascade' }),
    number: integer().notNull(),
    /** As it was kept before documents were packed. */
    document: json().$type<Document>(),
    /** The document's JSON, compressed (RFC 1952). */
    packed: bytes(),
    label: text().notNull(),
    /** Given by a person: such a state is never thinned out. */
    name: text(),
    savedAt: moment('saved_at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.number] })],
)

/** How a check came out, by its key in the trial. */
export interface KeptVerdict {
  readonly check: string
  readonly outcome: 'holds' | 'fails' | 'open'
  readonly margin?: number
  /** SI unit of the margin. */
  readonly unit?: string
}

/** A run by the content hash of what produced it; its record in pieces, complete once all are here. */
export const run = pgTable(
  'run',
  {
    projectId: text('project_id')
      .notNull()
      .references(() => project.id, { onDelete: 'cascade' }),
    hash: text().notNull(),
    trial: text().notNull(),
    /** Given by a person: such a run is never pruned. */
    name: text(),
    /** Words to find it by, with blanks between, and what a person wrote about it. */
    tags: text().notNull().default(''),
    note: text().notNull().default(''),
    /** What it said of the checks of its trial when it was made. */
    verdicts: json().$type<readonly KeptVerdict[]>(),
    /** The JSON of the document that made it, compressed (RFC 1952); nothing of runs of earlier editions. */
    made: bytes(),
    pieces: integer().notNull().default(1),
    /** Bytes of the whole record, unpacked. */
    length: bigint({ mode: 'number' }).notNull().default(0),
    complete: boolean().notNull().default(true),
    madeAt: moment('made_at').notNull().defaultNow(),
  },
  (table) => [primaryKey({ columns: [table.projectId, table.hash] })],
)

export const runPiece = pgTable(
  'run_piece',
  {
    projectId: text('project_id').notNull(),
    hash: text().notNull(),
    number: integer().notNull(),
    /** Compressed as the page sent it, or plain as records were kept before. */
    packing: text().$type<'gzip' | 'none'>().notNull(),
    content: bytes().notNull(),
  },
  (table) => [
    primaryKey({ columns: [table.projectId, table.hash, table.number] }),
    foreignKey({ columns: [table.projectId, table.hash], foreignColumns: [run.projectId, run.hash] }).onDelete('cascade'),
  ],
)

/** Meshes by the hash of their content; the name's ending says the format. Shared by all projects. */
export const asset = pgTable('asset', {
  hash: text().primaryKey(),
  name: text().notNull(),
  content: bytes().notNull(),
  keptAt: moment('kept_at').notNull().defaultNow(),
})

/** What opens the door beyond loopback: a slow hash of a passphrase for each level. */
export const passphrase = pgTable('passphrase', {
  level: text().$type<Level>().primaryKey(),
  hash: text().notNull(),
  setAt: moment('set_at').notNull().defaultNow(),
})

/** Who is signed in, and tokens for scripts; only a hash of what they carry is kept. */
export const session = pgTable(
  'session',
  {
    hash: text().primaryKey(),
    level: text().$type<Level>().notNull(),
    /** Nothing for a browser; the words of who made it for a token. */
    label: text(),
    expiresAt: moment('expires_at').notNull(),
  },
  (table) => [index('session_expires').on(table.expiresAt)],
)

export type Level = 'full' | 'read'
