import { unpackRecord } from '@calm-hand/core/formats'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { waitingRuns } from './outbox'

/** The record of a run from where it is kept: this browser, or the server; `undefined` where it is kept nowhere. */
export async function findRecord(project: string, hash: string): Promise<RunRecord | undefined> {
  const packed = (await waitingRecord(project, hash)) ?? (await keptRecord(project, hash))
  if (packed === undefined) return undefined
  const record = unpackRecord(packed)
  return record.kind === 'done' ? record.value : undefined
}

async function keptRecord(project: string, hash: string): Promise<Uint8Array | undefined> {
  const response = await fetch(`/api/projects/${project}/runs/${hash}`).catch(() => undefined)
  if (response?.ok !== true) return undefined
  const bytes = await response.arrayBuffer().catch(() => undefined) // cut off on the way
  return bytes === undefined ? undefined : new Uint8Array(bytes)
}

async function waitingRecord(project: string, hash: string): Promise<Uint8Array | undefined> {
  const run = (await waitingRuns(project)).find((one) => one.hash === hash)
  if (run === undefined) return undefined
  const unpacked = run.pieces.map((piece) => new Response(piece.stream().pipeThrough(new DecompressionStream('gzip'))).blob())
  return new Uint8Array(await new Blob(await Promise.all(unpacked)).arrayBuffer())
}
