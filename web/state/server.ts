import { done, refused, refusedFor } from '@calm-hand/core/document'
import type { Document, Outcome, Problem } from '@calm-hand/core/document'
import type { Verdict } from '@calm-hand/core/simulation'
import { beginWork } from './work'

export interface StoredProject {
  readonly id: string
  readonly document: Document
  readonly revision: number
  readonly savedAt: string
  /** The id of the save that made this revision. */
  readonly saveId?: string | null
}

export type SaveAnswer =
  | { readonly kind: 'saved'; readonly revision: number; readonly savedAt: string }
  | { readonly kind: 'stale'; readonly current: StoredProject }
  /** For good: sent again it would be refused again. */
  | {
      readonly kind: 'refused'
      readonly why: 'document' | 'gone' | 'readOnly' | 'signedOut'
      readonly problems: readonly Problem[]
    }
  /** To be tried again after so long: no answer, the database is away, or there is too much to do. */
  | { readonly kind: 'away'; readonly what: string; readonly againMs: number }

export interface Save {
  readonly revision: number
  readonly document: Document
  readonly label: string
  readonly save: string
  readonly follows: readonly string[]
}

/** ms after which what could not be taken is tried again, unless the server says when. */
const againMs = 1500

export async function fetchProjects(): Promise<StoredProject[]> {
  return (await asked('/api/projects')) as StoredProject[]
}

export async function fetchProject(id: string): Promise<StoredProject> {
  return (await asked(`/api/projects/${id}`)) as StoredProject
}

/** Whether the server and its database answer. */
export async function answersNow(): Promise<boolean> {
  return (await fetch('/api/health').catch(() => undefined))?.ok === true
}

export async function saveProject(id: string, save: Save): Promise<SaveAnswer> {
  let response: Response
  const body = JSON.stringify({ ...save, label: plain(save.label) })
  try {
    response = await sent(`/api/projects/${id}`, 'application/json', body, body.length)
  } catch {
    return { kind: 'away', what: 'The server does not answer.', againMs }
  }
  const told = (await response.json().catch(() => ({}))) as {
    problems?: Problem[]
    current?: StoredProject
    revision?: number
    savedAt?: string
  }
  // an answer that was cut off says nothing: sent again, the same save is known by its id
  if (response.ok && told.revision !== undefined) return { kind: 'saved', revision: told.revision, savedAt: told.savedAt! }
  if (response.status === 409 && told.current !== undefined) return { kind: 'stale', current: told.current }
  const problems = told.problems ?? []
  if (response.status >= 500 || response.status === 429 || response.status === 408 || problems.length === 0)
    return { kind: 'away', what: problems[0]?.what ?? 'The server does not answer.', againMs: waitOf(response) }
  const why =
    response.status === 404 ? 'gone' : response.status === 403 ? 'readOnly' : response.status === 401 ? 'signedOut' : 'document'
  return { kind: 'refused', why, problems }
}

/** ms after which no answer comes any more, and bytes a ms of the slowest line: below, the server cuts a request off. */
const patienceMs = 60_000
const slowest = 20

/** A PUT that is given up where no answer comes: what was sent is sent again then, and is known again. */
async function sent(path: string, type: string, body: string | Blob, bytes: number): Promise<Response> {
  const ending = new AbortController()
  const timer = setTimeout(() => ending.abort(), patienceMs + bytes / slowest)
  try {
    return await fetch(path, { method: 'PUT', headers: { 'Content-Type': type }, body, signal: ending.signal })
  } finally {
    clearTimeout(timer)
  }
}

/** ms until the server wants to be asked again. */
export function waitOf(response: Response): number {
  const seconds = Number(response.headers.get('Retry-After'))
  return seconds > 0 ? Math.min(1000 * seconds, 60_000) : againMs
}

/** Words of an edit, as the history takes them. */
function plain(label: string): string {
  // eslint-disable-next-line no-control-regex
  return label.replace(/[\u0000-\u001f]/g, ' ').slice(0, 200)
}

/** Adds a project; gives its address. */
export async function createProject(id: string, document: Document): Promise<Outcome<string>> {
  const { isDone, problems } = await answerFor('/api/projects', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ id, document }),
  })
  return isDone ? done(id) : refused(problems ?? [noAnswer])
}

const noAnswer: Problem = {
  where: 'server',
  what: 'The server does not answer.',
  remedy: 'Start it with `npm start` and try again.',
}

/** How a check came out when a run was made. */
export type RunVerdict = Pick<Verdict, 'check' | 'outcome' | 'margin'> & { readonly unit?: string }

export interface KeptRun {
  readonly hash: string
  readonly trial: string
  readonly name: string | null
  readonly tags: string
  readonly note: string
  readonly verdicts: readonly RunVerdict[] | null
  /** Whether the document that made it is kept with it. */
  readonly isMade: boolean
  /** Bytes */
  readonly length: number
  readonly madeAt: string
}

export async function fetchRuns(id: string): Promise<KeptRun[]> {
  return (await asked(`/api/projects/${id}/runs`)) as KeptRun[]
}

/** Sends what made a run; gives after how many ms it is to be sent again, nothing where that is of no use. */
export async function sendMade(id: string, hash: string, body: string): Promise<number | undefined> {
  const path = `/api/projects/${id}/runs/${hash}/made`
  const response = await sent(path, 'application/json', body, body.length).catch(() => undefined)
  if (response === undefined) return 2 * againMs
  return response.ok || isLasting(response) ? undefined : waitOf(response)
}

/** The document that made a run, resolved. */
export async function fetchMade(id: string, hash: string): Promise<Document> {
  return (await asked(`/api/projects/${id}/runs/${hash}/made`)) as Document
}

export type PieceAnswer =
  | { readonly kind: 'taken'; readonly complete: boolean }
  /** The server does not have the pieces before it: begin with the first. */
  | { readonly kind: 'first' }
  | { readonly kind: 'refused'; readonly what: string }
  | { readonly kind: 'away'; readonly againMs: number }

/** Sends one piece of a record, packed. */
export async function sendPiece(id: string, hash: string, number: number, piece: Blob): Promise<PieceAnswer> {
  const path = `/api/projects/${id}/runs/${hash}/pieces/${number}`
  const response = await sent(path, 'application/octet-stream', piece, piece.size).catch(() => undefined)
  if (response === undefined) return { kind: 'away', againMs: 2 * againMs }
  const body = (await response.json().catch(() => ({}))) as { complete?: boolean; problems?: Problem[] }
  if (response.ok && body.complete !== undefined) return { kind: 'taken', complete: body.complete }
  if (response.status === 409 && number > 0) return { kind: 'first' }
  const problem = body.problems?.[0]
  return isLasting(response) && problem !== undefined
    ? { kind: 'refused', what: problem.what }
    : { kind: 'away', againMs: waitOf(response) }
}

/** Whether it would be refused again. Not signed in is not for good: whoever signs in again has it delivered. */
function isLasting({ status }: Response): boolean {
  return status >= 400 && status < 500 && ![401, 408, 409, 429].includes(status)
}

export interface KeptState {
  readonly number: number
  readonly label: string
  readonly name: string | null
  readonly savedAt: string
}

/** States of a project's history, newest first, from before revision `before`. */
export async function fetchHistory(id: string, before?: number): Promise<KeptState[]> {
  const query = before === undefined ? '' : `?before=${before}`
  return (await asked(`/api/projects/${id}/revisions${query}`)) as KeptState[]
}

export async function fetchState(id: string, number: number): Promise<Document> {
  return (await asked(`/api/projects/${id}/revisions/${number}`)) as Document
}

export interface BinnedProject {
  readonly id: string
  readonly title: string
  readonly binnedAt: string
}

export async function fetchBin(): Promise<BinnedProject[]> {
  return (await asked('/api/bin')) as BinnedProject[]
}

export interface Access {
  readonly guarded: boolean
  readonly level: 'full' | 'read' | null
}

export async function fetchAccess(): Promise<Access> {
  return (await asked('/api/session')) as Access
}

/** Asks the server to change what it keeps; gives what is wrong, or nothing. */
export async function change(method: 'POST' | 'PATCH' | 'DELETE', path: string, body?: object): Promise<Problem | undefined> {
  const { isDone, problems } = await answerFor(`/api/${path}`, {
    method,
    ...(body === undefined ? {} : { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
  })
  return isDone ? undefined : (problems?.[0] ?? noAnswer)
}

/** Has a mesh kept; gives the hash it is kept by. */
export async function keepMesh(name: string, content: Uint8Array): Promise<Outcome<string>> {
  const { signal, end } = beginWork(`Sending ${name.split('/').at(-1)}`)
  const { told, problems } = await answerFor(`/api/assets?name=${encodeURIComponent(name.slice(-200))}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: content as Uint8Array<ArrayBuffer>,
    signal,
  })
  end()
  if (signal.aborted) return refusedFor(name, 'Sending it was cancelled.', 'Give its file at the body later.')
  const { hash } = (told ?? {}) as { hash?: string }
  return hash === undefined ? refused(problems ?? [noAnswer]) : done(hash)
}

/** The content of a kept mesh; `undefined` where it is not kept. */
export async function fetchMesh(hash: string): Promise<Uint8Array | undefined> {
  const response = await fetch(`/api/assets/${hash}`).catch(() => undefined)
  return response?.ok === true ? new Uint8Array(await response.arrayBuffer()) : undefined
}

/** What did not come; `passes` where it may come later, with nothing else done. */
export class NotGiven extends Error {
  constructor(
    { what, remedy }: Pick<Problem, 'what' | 'remedy'>,
    readonly passes: boolean,
  ) {
    super(`${what} ${remedy}`)
  }
}

async function asked(path: string): Promise<unknown> {
  const { isDone, told, problems, status } = await answerFor(path)
  if (isDone && told !== undefined) return told
  const problem = problems?.[0]
  throw new NotGiven(problem ?? noAnswer, problem === undefined || status >= 500 || status === 429)
}

/** What the server answers, as far as it does: `told` is its JSON, `status` 0 where nothing came. */
async function answerFor(path: string, request?: RequestInit) {
  const response = await fetch(path, request).catch(() => undefined)
  const told = (await response?.json().catch(() => undefined)) as { problems?: Problem[] } | undefined
  return { isDone: response?.ok === true, status: response?.status ?? 0, told, problems: told?.problems }
}
