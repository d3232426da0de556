import { done, refusedFor } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'
import { unpackTable } from '@calm-hand/core/formats'
import type { MeasuredTable } from '@calm-hand/core/identification'
import { fetchMesh } from '../state/server'

/** The last one: a large one takes its room. */
let kept: { readonly hash: string; readonly table: MeasuredTable } | undefined

/** A measured record that the server keeps, fetched and read once. */
export async function measuredTable(hash: string, file: string): Promise<Outcome<MeasuredTable>> {
  if (kept?.hash === hash) return done(kept.table)
  const content = await fetchMesh(hash)
  if (content === undefined) return refusedFor(file, 'This record is not kept here.', 'Give its file again.')
  const table = unpackTable(content)
  if (table.kind === 'done') kept = { hash, table: table.value }
  return table
}
