import { sql } from 'drizzle-orm'
import type { Database } from './connection'

export interface Sizes {
  readonly database: number
  readonly meshes: { readonly count: number; readonly bytes: number }
  readonly projects: readonly ProjectSizes[]
}

export interface ProjectSizes {
  readonly id: string
  readonly binned: boolean
  readonly document: number
  readonly states: number
  readonly history: number
  readonly runs: number
  readonly records: number
}

/** How much is kept of what, in bytes as stored. */
export async function sizesOf(db: Database): Promise<Sizes> {
  const [whole] = (await db.execute<{ bytes: string }>(sql`select pg_database_size(current_database()) as bytes`)).rows
  const [meshes] = (
    await db.execute<{ count: string; bytes: string }>(
      sql`select count(*) as count, coalesce(sum(octet_length(content)), 0) as bytes from asset`,
    )
  ).rows
  const { rows } = await db.execute<
    Record<'id' | 'document' | 'states' | 'history' | 'runs' | 'records', string> & { binned: boolean }
  >(sql`
    select p.id, p.binned_at is not null as binned, octet_length(p.document::text) as document,
      (select count(*) from revision r where r.project_id = p.id) as states,
      (select coalesce(sum(coalesce(octet_length(packed), octet_length(r.document::text))), 0) from revision r where r.project_id = p.id) as history,
      (select count(*) from run where project_id = p.id) as runs,
      (select coalesce(sum(octet_length(content)), 0) from run_piece where project_id = p.id) as records
    from project p order by p.id`)
  return {
    database: Number(whole!.bytes),
    meshes: { count: Number(meshes!.count), bytes: Number(meshes!.bytes) },
    projects: rows.map(({ id, binned, ...counts }) => ({
      ...{ id, binned },
      ...(Object.fromEntries(Object.entries(counts).map(([key, value]) => [key, Number(value)])) as Omit<
        ProjectSizes,
        'id' | 'binned'
      >),
    })),
  }
}
