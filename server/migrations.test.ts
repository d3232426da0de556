import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { describe, expect, it } from 'vitest'
import { lamplighter } from '../core/tests/demo'
import { openStore } from './store/store'
import { databaseUrl, freshDatabase, query } from './tests/served'

const folder = join(import.meta.dirname, 'store/migrations')

/** A database as an older edition left it: only so many of the migrations. */
async function databaseOf(migrations: number): Promise<string> {
  const url = await freshDatabase()
  const old = mkdtempSync(join(tmpdir(), 'calm-hand-migrations-'))
  cpSync(folder, old, { recursive: true })
  const journal = join(old, 'meta/_journal.json')
  const { entries, ...rest } = JSON.parse(readFileSync(journal, 'utf8')) as { entries: unknown[] }
  writeFileSync(journal, JSON.stringify({ ...rest, entries: entries.slice(0, migrations) }))
  const pool = new pg.Pool({ connectionString: url, max: 1 })
  await migrate(drizzle(pool), { migrationsFolder: old })
  await pool.end()
  rmSync(old, { recursive: true })
  return url
}

describe.skipIf(databaseUrl === undefined)('a database of an older edition', () => {
  it('keeps projects, histories and runs when records come in pieces and histories packed', async () => {
    const url = await databaseOf(2)
    const document = JSON.stringify(lamplighter())
    const record = Buffer.from([1, 2, 3, 4, 5])
    await query(url, `insert into project (id, document, revision) values ('lamplighter', $1, 2)`, [document])
    await query(url, `insert into revision (project_id, number, document, label) values ('lamplighter', 2, $1, 'Set mass')`, [
      document,
    ])
    await query(url, `insert into run (project_id, hash, trial, record) values ('lamplighter', 'ab', 'galleryRise', $1)`, [
      record,
    ])
    const store = openStore(url)
    await store.migrate()
    await store.keepHouse()
    expect(JSON.stringify((await store.findProject('lamplighter'))?.document)).toBe(document)
    expect(JSON.stringify(await store.findRevision('lamplighter', 2))).toBe(document)
    expect(await store.runs('lamplighter')).toMatchObject([{ hash: 'ab', trial: 'galleryRise', length: 5, name: null }])
    const pieces: Uint8Array[] = []
    for await (const piece of store.recordOf('lamplighter', 'ab')) pieces.push(piece)
    expect(Buffer.concat(pieces).equals(record)).toBe(true)
    const saved = await store.save('lamplighter', { from: 2, text: document, label: 'On', id: 'first-save', follows: [] })
    expect(saved).toMatchObject({ kind: 'saved', revision: 3 })
    await store.close()
  })
})
