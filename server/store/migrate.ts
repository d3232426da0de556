import { sql } from 'drizzle-orm'
import { readMigrationFiles } from 'drizzle-orm/migrator'
import { migrate as migrateWith } from 'drizzle-orm/node-postgres/migrator'
import { migrationsFolder } from '../folders'
import type { Database } from './connection'

/** The database was written by a newer edition: what it holds cannot be known here. */
export class NewerSchema extends Error {}

/** Brings the schema to the present version; leaves one of a newer edition untouched. */
export async function migrateDatabase(db: Database): Promise<void> {
  const known = Math.max(...readMigrationFiles({ migrationsFolder }).map(({ folderMillis }) => folderMillis))
  const there = await db.execute<{ there: string | null }>(sql`select to_regclass('drizzle.__drizzle_migrations')::text as there`)
  if (there.rows[0]?.there !== null) {
    const { rows } = await db.execute<{ newest: string | null }>(
      sql`select max(created_at)::text as newest from drizzle.__drizzle_migrations`,
    )
    if (Number(rows[0]?.newest ?? 0) > known) throw new NewerSchema()
  }
  await migrateWith(db, { migrationsFolder })
}
