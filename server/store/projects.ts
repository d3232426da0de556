import { and, desc, eq, inArray, isNotNull, isNull, lt, or, sql } from 'drizzle-orm'
import { mostDocumentCharacters } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { Connected } from './connection'
import { packed, unpackedText } from './packing'
import { project, revision } from './schema'

export interface StoredProject {
  readonly id: string
  readonly document: Document
  readonly revision: number
  readonly savedAt: Date
  /** The id of the save that made this revision. */
  readonly saveId: string | null
}

export interface Save {
  /** The revision that the work started from. */
  readonly from: number
  /** Its JSON, checked: it is kept as it was sent. */
  readonly text: string
  readonly label: string
  /** Sent again, a save of the same id is the same save. */
  readonly id: string
  /** Ids of saves that this work follows, whose answers never came: one of them may have been kept. */
  readonly follows: readonly string[]
}

export type SaveOutcome =
  | { readonly kind: 'saved'; readonly revision: number; readonly savedAt: Date }
  | { readonly kind: 'stale'; readonly current: StoredProject }
  | { readonly kind: 'unknown' }

export interface KeptRevision {
  readonly number: number
  readonly label: string
  readonly name: string | null
  readonly savedAt: Date
}

/** Days that a project stays in the bin. */
const binDays = 30

/** Text that is JSON already: neither read nor written anew here. */
function json(text: string) {
  return sql<Document>`${text}::json`
}

const stored = {
  id: project.id,
  document: project.document,
  revision: project.revision,
  savedAt: project.savedAt,
  saveId: project.saveId,
}

/** Projects and the history of each. */
export function projectStore({ db, transaction }: Connected) {
  const isHere = (id: string) => and(eq(project.id, id), isNull(project.binnedAt))

  /**
   * The next state and its place in the history, in one statement: most of what the server does all day. Nothing where the
   * project is not here, is at this save already, or has been saved by others since.
   */
  async function put(id: string, { from, text, label, id: saveId, follows }: Save) {
    const isNext = or(eq(project.revision, from), inArray(project.saveId, [...follows]))
    const savedAt = new Date()
    const { rows } = await db.execute<{ revision: number }>(sql`
      with next as (
        update project set document = ${json(text)}, save_id = ${saveId}, revision = revision + 1, saved_at = ${savedAt.toISOString()}
        where ${isHere(id)} and ${project.saveId} is distinct from ${saveId} and ${isNext}
        returning id, revision, saved_at
      )
      insert into revision (project_id, number, packed, label, saved_at)
      select id, revision, ${Buffer.from(await packed(text))}::bytea, ${label}, saved_at from next
      returning number as "revision"`)
    return rows[0] === undefined ? undefined : { revision: rows[0].revision, savedAt }
  }

  return {
    async projects(): Promise<StoredProject[]> {
      return db.select(stored).from(project).where(isNull(project.binnedAt)).orderBy(project.id)
    },

    /** Names of all projects, those in the bin too. */
    async projectNames(): Promise<ReadonlySet<string>> {
      return new Set((await db.select({ id: project.id }).from(project)).map(({ id }) => id))
    },

    async findProject(id: string): Promise<StoredProject | undefined> {
      return (await db.select(stored).from(project).where(isHere(id)))[0]
    },

    /** Adds a project by its JSON, or leaves an existing one of that name as it is, also one in the bin. */
    async addProject(id: string, text: string, label: string): Promise<boolean> {
      const content = await packed(text)
      return transaction(async (tx) => {
        const added = await tx
          .insert(project)
          .values({ id, document: json(text), revision: 1 })
          .onConflictDoNothing()
          .returning()
        if (added.length === 0) return false
        await tx.insert(revision).values({ projectId: id, number: 1, packed: content, label })
        return true
      })
    },

    /** Saves a project that was at revision `from`; a later state in the meantime makes it stale and changes nothing. */
    async save(id: string, save: Save): Promise<SaveOutcome> {
      const kept = await put(id, save)
      if (kept !== undefined) return { kind: 'saved', ...kept }
      const [current] = await db.select(stored).from(project).where(isHere(id))
      if (current === undefined) return { kind: 'unknown' }
      const { revision: number, savedAt, saveId } = current
      return saveId === save.id ? { kind: 'saved', revision: number, savedAt } : { kind: 'stale', current }
    },

    /** Puts a document on top of a project, whatever its revision: what was there stays in its history. */
    async putOnTop(id: string, text: string, label: string): Promise<void> {
      const content = await packed(text)
      await transaction(async (tx) => {
        const [current] = await tx.select({ revision: project.revision }).from(project).where(eq(project.id, id)).for('update')
        const number = (current?.revision ?? 0) + 1
        const savedAt = new Date()
        if (current === undefined) await tx.insert(project).values({ id, document: json(text), revision: number, savedAt })
        else
          await tx
            .update(project)
            .set({ document: json(text), revision: number, savedAt, saveId: null, binnedAt: null })
            .where(eq(project.id, id))
        await tx.insert(revision).values({ projectId: id, number, packed: content, label, savedAt })
      })
    },

    /** Newest first, at most `most` before revision `before`. */
    async revisions(id: string, before: number, most: number): Promise<KeptRevision[]> {
      return db
        .select({ number: revision.number, label: revision.label, name: revision.name, savedAt: revision.savedAt })
        .from(revision)
        .where(and(eq(revision.projectId, id), lt(revision.number, before)))
        .orderBy(desc(revision.number))
        .limit(most)
    },

    async findRevision(id: string, number: number): Promise<Document | undefined> {
      const [found] = await db
        .select()
        .from(revision)
        .where(and(eq(revision.projectId, id), eq(revision.number, number)))
      if (found === undefined) return undefined
      if (found.packed === null) return found.document ?? undefined
      return JSON.parse(await unpackedText(found.packed, 4 * mostDocumentCharacters)) as Document
    },

    /** Names a state, so that it is kept for ever; without a name it is thinned as others are. */
    async nameRevision(id: string, number: number, name: string | null): Promise<boolean> {
      const named = await db
        .update(revision)
        .set({ name })
        .where(and(eq(revision.projectId, id), eq(revision.number, number)))
        .returning({ number: revision.number })
      return named.length > 0
    },

    /** Deletes all states but the present one and those with a name; gives how many went. */
    async forgetHistory(id: string): Promise<number> {
      const gone = await db.execute(
        sql`delete from revision r using project p
            where r.project_id = ${id} and p.id = ${id} and r.name is null and r.number <> p.revision`,
      )
      return gone.rowCount ?? 0
    },

    /**
     * Thins all histories: everything of the last day stays, then the last state of each hour for 30 days, then the last of
     * each day; named states and the present one stay always. Gives how many went.
     */
    async thinHistory(): Promise<number> {
      const gone = await db.execute(sql`
        delete from revision r using (
          select project_id, number, row_number() over (
            partition by project_id, saved_at > now() - interval '30 days',
              date_trunc(case when saved_at > now() - interval '30 days' then 'hour' else 'day' end, saved_at)
            order by number desc) as place
          from revision where saved_at <= now() - interval '1 day' and name is null
        ) old, project p
        where r.project_id = old.project_id and r.number = old.number and p.id = r.project_id
          and old.place > 1 and r.number <> p.revision`)
      return gone.rowCount ?? 0
    },

    /** States that were kept before documents were packed take their place packed; a few at a time. */
    async packOldRevisions(most: number): Promise<number> {
      const old = await db.select().from(revision).where(isNotNull(revision.document)).limit(most)
      for (const { projectId, number, document } of old)
        await db
          .update(revision)
          .set({ document: null, packed: await packed(JSON.stringify(document)) })
          .where(and(eq(revision.projectId, projectId), eq(revision.number, number)))
      return old.length
    },

    /** Takes a project out of the Yard; it stays in the bin for a month. */
    async binProject(id: string): Promise<boolean> {
      const binned = await db.update(project).set({ binnedAt: new Date() }).where(isHere(id)).returning({ id: project.id })
      return binned.length > 0
    },

    async binned(): Promise<{ id: string; title: string; binnedAt: Date }[]> {
      return db
        .select({ id: project.id, title: sql<string>`${project.document}->>'title'`, binnedAt: sql<Date>`${project.binnedAt}` })
        .from(project)
        .where(isNotNull(project.binnedAt))
        .orderBy(desc(project.binnedAt))
    },

    async takeFromBin(id: string): Promise<boolean> {
      const taken = await db
        .update(project)
        .set({ binnedAt: null })
        .where(and(eq(project.id, id), isNotNull(project.binnedAt)))
        .returning({ id: project.id })
      return taken.length > 0
    },

    /** Deletes a project of the bin with its history and runs, for good. */
    async deleteBinned(id: string): Promise<boolean> {
      const gone = await db
        .delete(project)
        .where(and(eq(project.id, id), isNotNull(project.binnedAt)))
        .returning({ id: project.id })
      return gone.length > 0
    },

    async emptyOldBin(): Promise<number> {
      const gone = await db.execute(sql`delete from project where binned_at < now() - ${`${binDays} days`}::interval`)
      return gone.rowCount ?? 0
    },
  }
}
