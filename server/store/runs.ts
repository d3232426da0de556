import { and, asc, count, desc, eq, sql } from 'drizzle-orm'
import { mostDocumentCharacters, recordPieceBytes as pieceBytes } from '@calm-hand/core/document'
import type { Connected } from './connection'
import { packed, unpackedBytes, unpackedText } from './packing'
import { project, run, runPiece } from './schema'
import type { KeptVerdict } from './schema'

/** What is pruned: of the runs that nothing keeps, those beyond so many, or beyond so many bytes. */
export const mostRuns = 60
export const mostRunBytes = 4_000_000_000

export interface KeptRun {
  readonly hash: string
  readonly trial: string
  readonly name: string | null
  readonly tags: string
  readonly note: string
  readonly verdicts: readonly KeptVerdict[] | null
  /** Whether the document that made it is kept with it. */
  readonly isMade: boolean
  readonly length: number
  readonly madeAt: Date
}

/** What a person says of a run; fields left out stay. */
export interface SaidOfRun {
  readonly name?: string | null
  readonly tags?: string
  readonly note?: string
}

export interface RunPiece {
  readonly number: number
  readonly content: Uint8Array
}

/** Runs, their records in pieces. */
export function runStore({ db, transaction }: Connected) {
  const isRun = (id: string, hash: string) => and(eq(run.projectId, id), eq(run.hash, hash))

  return {
    /** Begins a run, of which pieces will follow; one that is here stays as it is. False where there is no such project. */
    async beginRun(id: string, hash: string, { trial, length }: { trial: string; length: number }): Promise<boolean> {
      return transaction(async (tx) => {
        const [owner] = await tx.select({ id: project.id }).from(project).where(eq(project.id, id)).for('key share')
        if (owner === undefined) return false
        const pieces = Math.ceil(length / pieceBytes)
        await tx.insert(run).values({ projectId: id, hash, trial, pieces, length, complete: false }).onConflictDoNothing()
        return true
      })
    },

    async findRun(id: string, hash: string): Promise<{ pieces: number; length: number; complete: boolean } | undefined> {
      const [found] = await db
        .select({ pieces: run.pieces, length: run.length, complete: run.complete })
        .from(run)
        .where(isRun(id, hash))
      return found
    },

    /** Keeps a piece; with the last one the run is complete. A piece that is here stays. */
    async keepPiece(id: string, hash: string, { number, content }: RunPiece): Promise<{ complete: boolean }> {
      return transaction(async (tx) => {
        const [owner] = await tx
          .select({ pieces: run.pieces, complete: run.complete })
          .from(run)
          .where(isRun(id, hash))
          .for('update')
        if (owner === undefined) return { complete: false }
        if (owner.complete) return { complete: true }
        await tx.insert(runPiece).values({ projectId: id, hash, number, packing: 'gzip', content }).onConflictDoNothing()
        const [here] = await tx
          .select({ count: count() })
          .from(runPiece)
          .where(and(eq(runPiece.projectId, id), eq(runPiece.hash, hash)))
        const complete = here!.count === owner.pieces
        if (complete) await tx.update(run).set({ complete, madeAt: new Date() }).where(isRun(id, hash))
        return { complete }
      })
    },

    /**
     * Deletes runs of a project beyond the newest `mostRuns`, or beyond `mostRunBytes`, not counting what is kept always:
     * pinned ones, named ones, the last of each trial. Gives how many went.
     */
    async pruneRuns(id: string, limits = { runs: mostRuns, bytes: mostRunBytes }): Promise<number> {
      const gone = await db.execute(sql`
        delete from run where project_id = ${id} and hash in (
          select hash from (
            select hash, row_number() over newest as place, sum(length) over newest as total from (
              select hash, length, made_at, name, row_number() over (partition by trial order by made_at desc) as of_trial
              from run where project_id = ${id} and complete
            ) each
            where name is null and of_trial > 1 and hash not in (
              select pin.value->>'run' from project, json_each(document->'tray') pin where id = ${id} and pin.value->>'run' is not null
            )
            window newest as (order by made_at desc, hash)
          ) others where place > ${limits.runs} or total > ${limits.bytes})`)
      return gone.rowCount ?? 0
    },

    async runs(id: string): Promise<KeptRun[]> {
      return db
        .select({
          ...{ hash: run.hash, trial: run.trial, name: run.name, tags: run.tags, note: run.note, verdicts: run.verdicts },
          ...{ isMade: sql<boolean>`${run.made} is not null`, length: run.length, madeAt: run.madeAt },
        })
        .from(run)
        .where(and(eq(run.projectId, id), eq(run.complete, true)))
        .orderBy(desc(run.madeAt))
    },

    /** Whether there is such a run. */
    async sayOfRun(id: string, hash: string, said: SaidOfRun): Promise<boolean> {
      return (
        (
          await db
            .update(run)
            .set({ hash, ...said })
            .where(isRun(id, hash))
            .returning({ hash: run.hash })
        ).length > 0
      )
    },

    /** Keeps what made a run, and how its checks came out; what is kept already stays. False where there is no such run. */
    async keepMade(id: string, hash: string, text: string, verdicts: readonly KeptVerdict[]): Promise<boolean> {
      const made = await packed(text)
      const kept = await db
        .update(run)
        .set({ made: sql`coalesce(${run.made}, ${Buffer.from(made)}::bytea)`, verdicts })
        .where(isRun(id, hash))
        .returning({ hash: run.hash })
      return kept.length > 0
    },

    /** The JSON of the document that made a run; nothing where it is not kept. */
    async madeBy(id: string, hash: string): Promise<string | undefined> {
      const [found] = await db.select({ made: run.made }).from(run).where(isRun(id, hash))
      return found?.made == null ? undefined : unpackedText(found.made, 4 * mostDocumentCharacters)
    },

    async deleteRun(id: string, hash: string): Promise<boolean> {
      return (await db.delete(run).where(isRun(id, hash)).returning({ hash: run.hash })).length > 0
    },

    /** The bytes of a record, piece by piece, so that no more than one is in memory. */
    async *recordOf(id: string, hash: string): AsyncGenerator<Uint8Array> {
      const numbers = await db
        .select({ number: runPiece.number })
        .from(runPiece)
        .where(and(eq(runPiece.projectId, id), eq(runPiece.hash, hash)))
        .orderBy(asc(runPiece.number))
      for (const { number } of numbers) {
        const [piece] = await db
          .select({ content: runPiece.content, packing: runPiece.packing })
          .from(runPiece)
          .where(and(eq(runPiece.projectId, id), eq(runPiece.hash, hash), eq(runPiece.number, number)))
        const bytes = piece?.packing === 'none' ? piece.content : piece && (await unpackedBytes(piece.content, pieceBytes))
        if (bytes === undefined) throw new Error(`Piece ${number} of the run ${hash} cannot be read.`)
        yield bytes
      }
    },

    /** Runs that were begun a week ago and never came whole. */
    async dropUnfinished(): Promise<number> {
      return (await db.execute(sql`delete from run where not complete and made_at < now() - interval '7 days'`)).rowCount ?? 0
    },
  }
}
