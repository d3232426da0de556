import { and, desc, eq, sql } from 'drizzle-orm'
import { drizzle } from 'drizzle-orm/node-postgres'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import { fileURLToPath } from 'node:url'
import pg from 'pg'
import type { Document } from '@calm-hand/core/document'
import { asset, project, revision, run } from './schema'

export interface StoredProject {
  readonly id: string
  readonly document: Document
  readonly revision: number
  readonly savedAt: Date
}

export type SaveOutcome =
  | { readonly kind: 'saved'; readonly revision: number; readonly savedAt: Date }
  | { readonly kind: 'stale'; readonly current: StoredProject }
  | { readonly kind: 'unknown' }

export type Store = ReturnType<typeof openStore>

/** Runs kept for each project, newest first; pinned ones are kept by their hash besides. */
const mostRuns = 60

/** All that is kept, behind named functions. Throws what the driver throws when the database does not answer. */
export function openStore(databaseUrl: string) {
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 8, connectionTimeoutMillis: 3000, query_timeout: 20_000 })
  pool.on('error', () => undefined) // a lost idle connection is replaced at the next query
  const db = drizzle(pool, { casing: 'snake_case' })

  return {
    async migrate(): Promise<void> {
      await migrate(db, { migrationsFolder: fileURLToPath(new URL('./migrations', import.meta.url)) })
    },

    async close(): Promise<void> {
      await pool.end()
    },

    async answers(): Promise<void> {
      await db.execute(sql`select 1`)
    },

    async projects(): Promise<StoredProject[]> {
      return db.select().from(project).orderBy(project.id)
    },

    async findProject(id: string): Promise<StoredProject | undefined> {
      return (await db.select().from(project).where(eq(project.id, id)))[0]
    },

    /** Adds a project, or leaves an existing one of that name as it is. */
    async addProject(id: string, document: Document, label: string): Promise<boolean> {
      return db.transaction(async (tx) => {
        const added = await tx.insert(project).values({ id, document, revision: 1 }).onConflictDoNothing().returning()
        if (added.length === 0) return false
        await tx.insert(revision).values({ projectId: id, number: 1, document, label })
        return true
      })
    },

    /** Saves a project that was at revision `from`; a later state in the meantime makes it stale and changes nothing. */
    async save(id: string, from: number, document: Document, label: string): Promise<SaveOutcome> {
      return db.transaction(async (tx): Promise<SaveOutcome> => {
        const [current] = await tx.select().from(project).where(eq(project.id, id)).for('update')
        if (current === undefined) return { kind: 'unknown' }
        if (current.revision !== from) return { kind: 'stale', current }
        const savedAt = new Date()
        await tx
          .update(project)
          .set({ document, revision: from + 1, savedAt })
          .where(eq(project.id, id))
        await tx.insert(revision).values({ projectId: id, number: from + 1, document, label, savedAt })
        return { kind: 'saved', revision: from + 1, savedAt }
      })
    },

    async revisions(id: string): Promise<{ number: number; label: string; savedAt: Date }[]> {
      return db
        .select({ number: revision.number, label: revision.label, savedAt: revision.savedAt })
        .from(revision)
        .where(eq(revision.projectId, id))
        .orderBy(desc(revision.number))
        .limit(100)
    },

    async findRevision(id: string, number: number): Promise<Document | undefined> {
      const [found] = await db
        .select()
        .from(revision)
        .where(and(eq(revision.projectId, id), eq(revision.number, number)))
      return found?.document
    },

    async keepRun(id: string, hash: string, trial: string, record: Uint8Array): Promise<boolean> {
      return db.transaction(async (tx) => {
        const [owner] = await tx.select().from(project).where(eq(project.id, id))
        if (owner === undefined) return false
        await tx
          .insert(run)
          .values({ projectId: id, hash, trial, record })
          .onConflictDoUpdate({ target: [run.projectId, run.hash], set: { madeAt: new Date() } })
        const pinned = Object.values(owner.document.tray).map((pin) => pin.run)
        const newest = await tx
          .select({ hash: run.hash })
          .from(run)
          .where(eq(run.projectId, id))
          .orderBy(desc(run.madeAt))
          .offset(mostRuns)
        for (const old of newest) {
          if (!pinned.includes(old.hash)) await tx.delete(run).where(and(eq(run.projectId, id), eq(run.hash, old.hash)))
        }
        return true
      })
    },

    async runs(id: string): Promise<{ hash: string; trial: string; madeAt: Date }[]> {
      return db
        .select({ hash: run.hash, trial: run.trial, madeAt: run.madeAt })
        .from(run)
        .where(eq(run.projectId, id))
        .orderBy(desc(run.madeAt))
    },

    async findRun(id: string, hash: string): Promise<Uint8Array | undefined> {
      const [found] = await db
        .select({ record: run.record })
        .from(run)
        .where(and(eq(run.projectId, id), eq(run.hash, hash)))
      return found?.record
    },

    /** Keeps a mesh; one that is already here stays. */
    async keepAsset(hash: string, name: string, content: Uint8Array): Promise<void> {
      await db.insert(asset).values({ hash, name, content }).onConflictDoNothing()
    },

    async findAsset(hash: string): Promise<Uint8Array | undefined> {
      const [found] = await db.select({ content: asset.content }).from(asset).where(eq(asset.hash, hash))
      return found?.content
    },

    /** Empties everything, for putting the demo back. */
    async clear(): Promise<void> {
      await db.delete(project)
      await db.delete(asset)
    },
  }
}
