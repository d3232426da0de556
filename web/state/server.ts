import { done, refused } from '@calm-hand/core/document'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import { packRecord, unpackRecord } from '@calm-hand/core/formats'
import type { Record as RunRecord } from '@calm-hand/core/simulation'

export interface StoredProject {
  readonly id: string
  readonly document: Document
  readonly revision: number
  readonly savedAt: string
}

export type SaveAnswer =
  | { readonly kind: 'saved'; readonly revision: number; readonly savedAt: string }
  | { readonly kind: 'stale'; readonly current: StoredProject }
  | { readonly kind: 'refused'; readonly problems: readonly Problem[] }
  /** No answer, or the database is away: to be tried again. */
  | { readonly kind: 'away'; readonly what: string }

export async function fetchProjects(): Promise<StoredProject[]> {
  return (await expectJson(await fetch('/api/projects'))) as StoredProject[]
}

export async function fetchProject(id: string): Promise<StoredProject> {
  return (await expectJson(await fetch(`/api/projects/${id}`))) as StoredProject
}

export async function saveProject(id: string, revision: number, document: Document, label: string): Promise<SaveAnswer> {
  let response: Response
  try {
    response = await fetch(`/api/projects/${id}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ revision, label, document }),
      keepalive: true,
    })
  } catch {
    return { kind: 'away', what: 'The server does not answer.' }
  }
  const body = (await response.json().catch(() => ({}))) as {
    problems?: Problem[]
    current?: StoredProject
    revision?: number
    savedAt?: string
  }
  if (response.ok) return { kind: 'saved', revision: body.revision!, savedAt: body.savedAt! }
  if (response.status === 409 && body.current !== undefined) return { kind: 'stale', current: body.current }
  if (response.status >= 500 || response.status === 429)
    return { kind: 'away', what: body.problems?.[0]?.what ?? 'The server does not answer.' }
  return { kind: 'refused', problems: body.problems ?? [] }
}

/** Adds a project; gives its address. */
export async function createProject(id: string, document: Document): Promise<Outcome<string>> {
  const response = await fetch('/api/projects', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ id, document }),
  }).catch(() => undefined)
  if (response?.ok === true) return done(id)
  const body = (await response?.json().catch(() => undefined)) as { problems?: Problem[] } | undefined
  return refused(body?.problems ?? [noAnswer])
}

const noAnswer: Problem = {
  where: 'server',
  what: 'The server does not answer.',
  remedy: 'Start it with `npm start` and try again.',
}

export interface KeptRun {
  readonly hash: string
  readonly trial: string
  readonly madeAt: string
}

export async function fetchRuns(id: string): Promise<KeptRun[]> {
  return (await expectJson(await fetch(`/api/projects/${id}/runs`))) as KeptRun[]
}

/** `undefined` where the run is not kept. */
export async function fetchRun(id: string, hash: string): Promise<RunRecord | undefined> {
  const response = await fetch(`/api/projects/${id}/runs/${hash}`)
  if (!response.ok) return undefined
  const record = unpackRecord(new Uint8Array(await response.arrayBuffer()))
  return record.kind === 'done' ? record.value : undefined
}

export async function keepRun(id: string, record: RunRecord): Promise<boolean> {
  const response = await fetch(`/api/projects/${id}/runs/${record.hash}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: packRecord(record),
  }).catch(() => undefined)
  return response?.ok === true
}

/** Has a mesh kept; gives the hash it is kept by. */
export async function keepMesh(name: string, content: Uint8Array): Promise<Outcome<string>> {
  const response = await fetch(`/api/assets?name=${encodeURIComponent(name.slice(-200))}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: content as Uint8Array<ArrayBuffer>,
  }).catch(() => undefined)
  const body = (await response?.json().catch(() => undefined)) as { hash?: string; problems?: Problem[] } | undefined
  if (body?.hash !== undefined) return done(body.hash)
  return refused(body?.problems ?? [noAnswer])
}

/** The content of a kept mesh; `undefined` where it is not kept. */
export async function fetchMesh(hash: string): Promise<Uint8Array | undefined> {
  const response = await fetch(`/api/assets/${hash}`).catch(() => undefined)
  return response?.ok === true ? new Uint8Array(await response.arrayBuffer()) : undefined
}

async function expectJson(response: Response): Promise<unknown> {
  const body = (await response.json().catch(() => undefined)) as { problems?: Problem[] } | undefined
  if (response.ok && body !== undefined) return body
  const problem = body?.problems?.[0]
  throw new Error(
    problem === undefined ? 'The server does not answer. Start it with `npm start`.' : `${problem.what} ${problem.remedy}`,
  )
}
