import { proxy, wrap } from 'comlink'
import type { Remote } from 'comlink'
import { create } from 'zustand'
import type { Document, Problem } from '@calm-hand/core/document'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { answerTo } from '../compute'
import { cancelAgainst } from './against'
import { cancelGap } from './gap'
import { deliverRuns, waitingRuns } from './outbox'
import { fetchRuns } from './server'
import { receivedOf } from '../workers/sentRecord'
import type { Simulator } from '../workers/simulate.worker'

export type RunState =
  | { readonly kind: 'idle' }
  | { readonly kind: 'running'; readonly trial: string; readonly share: number }
  | { readonly kind: 'refused'; readonly problems: readonly Problem[] }
  | { readonly kind: 'failed'; readonly what: string }

interface Runs {
  readonly projectId: string | undefined
  readonly state: RunState
  readonly records: Readonly<{ [hash: string]: RunRecord }>
  /** Latest run of each trial, by hash; where a project was opened that of its document as it is, if it was made. */
  readonly latest: Readonly<{ [trial: string]: { readonly hash: string; readonly at: string } }>
  /** Hashes that were asked for and are kept nowhere. */
  readonly gone: ReadonlySet<string>
  /** Hashes of records that left memory: where they are kept they are found again. */
  readonly away: ReadonlySet<string>
  /** Whether the browser could keep the last run until the server has it. */
  readonly isKept: boolean
  /** How long the last run took, ms. */
  readonly took: { readonly compile: number; readonly run: number } | undefined
}

const empty: Runs = {
  projectId: undefined,
  state: { kind: 'idle' },
  records: {},
  latest: {},
  gone: new Set(),
  away: new Set(),
  isKept: true,
  took: undefined,
}
export const useRuns = create<Runs>(() => empty)

let lastKept: Promise<void> = Promise.resolve()
let lastRun: Promise<unknown> = Promise.resolve()
let worker: Worker | undefined
let simulator: Remote<Simulator> | undefined

function startedSimulator(): Remote<Simulator> {
  if (simulator === undefined) {
    worker = new Worker(new URL('../workers/simulate.worker.ts', import.meta.url), { type: 'module' })
    simulator = wrap<Simulator>(worker)
  }
  return simulator
}

interface Made {
  readonly trial: string
  readonly hash: string
  readonly madeAt: string
}

/** The run of each trial that is shown first: that of the document as it is, by the hashes of its trials, else the newest. */
export function shownFirst(newestFirst: readonly Made[], current: Readonly<Record<string, string>>): Runs['latest'] {
  const shown: { [trial: string]: { hash: string; at: string } } = {}
  for (const { trial, hash, madeAt } of newestFirst) {
    const isOfThis = hash === current[trial] && shown[trial]?.hash !== hash
    if (shown[trial] === undefined || isOfThis) shown[trial] = { hash, at: madeAt }
  }
  return shown
}

/** By trial; none where they cannot be had. */
function hashesOf(document: Document): Promise<Readonly<Record<string, string>>> {
  const asked = answerTo({ name: 'runHashes', document, rest: [], subject: 'runs', lane: 'side', rank: 0 })
  return asked.catch(() => ({}))
}

/** Reads which runs the server keeps and fetches those that are to be shown. `document` is without problems. */
export async function openRuns(projectId: string, document: Document): Promise<void> {
  if (useRuns.getState().projectId === projectId) return
  leaveRun()
  cancelGap()
  cancelAgainst()
  useRuns.setState({ ...empty, projectId })
  void deliverRuns()
  const [kept, waiting, hashes] = await Promise.all([
    fetchRuns(projectId).catch(() => []),
    waitingRuns(projectId),
    hashesOf(document),
  ])
  const newestFirst = [...kept, ...waiting].sort((a, b) => (a.madeAt < b.madeAt ? 1 : -1))
  const latest = shownFirst(newestFirst, hashes)
  if (useRuns.getState().projectId !== projectId) return
  const pinned = Object.values(document.tray).map(({ run }) => run)
  useRuns.setState((runs) => ({ latest: { ...latest, ...runs.latest } }))
  const wanted = new Set([...pinned, ...Object.values(latest).map(({ hash }) => hash)])
  await Promise.all([...wanted].map((hash) => loadRun(projectId, hash)))
}

/** Fetches a run from where it is kept: this browser, or the server. */
export async function loadRun(projectId: string, hash: string): Promise<void> {
  if (useRuns.getState().records[hash] !== undefined) return
  const record = await (await import('./records')).findRecord(projectId, hash)
  if (useRuns.getState().projectId !== projectId) return
  useRuns.setState(({ records, gone }) =>
    record === undefined ? { gone: new Set([...gone, hash]) } : { records: { ...records, [hash]: record } },
  )
}

/** What is to be run once the run under way has ended: the last that was asked for. */
let next: { readonly projectId: string; readonly document: Document; readonly trial: string } | undefined

/** Runs a trial and keeps its record; while one runs, what is asked for waits until it has ended, the newest alone. */
export async function runTrial(projectId: string, document: Document, trial: string): Promise<RunRecord | undefined> {
  if (useRuns.getState().state.kind === 'running') {
    next = { projectId, document, trial }
    return undefined
  }
  const record = await runOne(projectId, document, trial)
  const waiting = next
  next = undefined
  // what has just been run is not run again
  if (waiting === undefined || (waiting.document === document && waiting.trial === trial)) return record
  return useRuns.getState().projectId === waiting.projectId
    ? runTrial(waiting.projectId, waiting.document, waiting.trial)
    : record
}

async function runOne(projectId: string, document: Document, trial: string): Promise<RunRecord | undefined> {
  useRuns.setState({ state: { kind: 'running', trial, share: 0 } })
  try {
    await lastKept // ending the worker must not take a run with it that is just being put away
    const progress = proxy((share: number) =>
      useRuns.setState(({ state }) => (state.kind === 'running' ? { state: { ...state, share } } : {})),
    )
    let settle: () => void = () => undefined
    const kept = proxy((isKept: boolean) => {
      useRuns.setState({ isKept })
      settle()
      void deliverRuns()
    })
    const running = startedSimulator().run(projectId, document, trial, progress, kept)
    lastRun = running.catch(() => undefined)
    const answer = await running
    if (answer.kind === 'run') lastKept = new Promise((resolve) => (settle = resolve))
    // its record is kept, and found when the project is opened
    if (useRuns.getState().projectId !== projectId) return undefined
    if (answer.kind === 'refused') {
      useRuns.setState({ state: answer })
      return undefined
    }
    const { record: sent, compileMs, runMs } = answer
    const record = receivedOf(sent)
    useRuns.setState(({ records, latest, gone }) => ({
      state: { kind: 'idle' },
      gone: new Set([...gone].filter((hash) => hash !== record.hash)),
      records: { ...records, [record.hash]: record },
      latest: { ...latest, [trial]: { hash: record.hash, at: new Date().toISOString() } },
      took: { compile: compileMs, run: runMs },
    }))
    leaveMemory(Object.values(document.tray).map((pin) => pin.run))
    return record
  } catch (error) {
    if (useRuns.getState().projectId === projectId && useRuns.getState().state.kind === 'running')
      useRuns.setState({ state: { kind: 'failed', what: (error as Error).message } })
    return undefined
  }
}

/** Records beside those that are shown that stay in memory. */
const mostInMemory = 6

/** The last record of each trial and pinned ones stay, and of the others the youngest. */
function leaveMemory(pinned: readonly string[]): void {
  useRuns.setState(({ records, latest, away }) => {
    const shown = new Set([...pinned, ...Object.values(latest).map(({ hash }) => hash)])
    const old = Object.keys(records)
      .filter((hash) => !shown.has(hash))
      .slice(0, -mostInMemory)
    const kept = Object.entries(records).filter(([hash]) => !old.includes(hash))
    return { records: Object.fromEntries(kept), away: new Set([...away, ...old]) }
  })
}

/** A run of the project that is left goes on by itself until its record is kept; the next project has a worker of its own. */
function leaveRun(): void {
  if (useRuns.getState().state.kind !== 'running') return
  const left = worker
  worker = simulator = undefined
  void lastRun.then(() => lastKept).finally(() => left?.terminate())
}

/** Ends the run under way at once; what was there before stays. */
export function stopRun(): void {
  next = undefined
  if (useRuns.getState().state.kind !== 'running') return
  worker?.terminate()
  worker = simulator = undefined
  useRuns.setState({ state: { kind: 'idle' } })
}
