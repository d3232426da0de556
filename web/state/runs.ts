import { proxy, wrap } from 'comlink'
import type { Remote } from 'comlink'
import { create } from 'zustand'
import type { Document, Problem } from '@calm-hand/core/document'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { fetchRun, fetchRuns, keepRun } from './server'
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
  /** Latest run of each trial, by hash. */
  readonly latest: Readonly<{ [trial: string]: { readonly hash: string; readonly at: string } }>
  /** How long the last run took, ms. */
  readonly took: { readonly compile: number; readonly run: number } | undefined
}

const empty: Runs = { projectId: undefined, state: { kind: 'idle' }, records: {}, latest: {}, took: undefined }
export const useRuns = create<Runs>(() => empty)

let worker: Worker | undefined
let simulator: Remote<Simulator> | undefined

function startedSimulator(): Remote<Simulator> {
  if (simulator === undefined) {
    worker = new Worker(new URL('../workers/simulate.worker.ts', import.meta.url), { type: 'module' })
    simulator = wrap<Simulator>(worker)
  }
  return simulator
}

/** Reads which runs the server keeps and fetches those that are to be shown. */
export async function openRuns(projectId: string, pinned: readonly string[]): Promise<void> {
  if (useRuns.getState().projectId === projectId) return
  useRuns.setState({ ...empty, projectId })
  const kept = await fetchRuns(projectId).catch(() => [])
  const latest: { [trial: string]: { hash: string; at: string } } = {}
  for (const { trial, hash, madeAt } of kept) latest[trial] ??= { hash, at: madeAt }
  useRuns.setState((runs) => ({ latest: { ...latest, ...runs.latest } }))
  const wanted = new Set([...pinned, ...Object.values(latest).map(({ hash }) => hash)])
  await Promise.all([...wanted].map((hash) => loadRun(projectId, hash)))
}

export async function loadRun(projectId: string, hash: string): Promise<void> {
  if (useRuns.getState().records[hash] !== undefined) return
  const record = await fetchRun(projectId, hash)
  if (record !== undefined) useRuns.setState(({ records }) => ({ records: { ...records, [hash]: record } }))
}

export async function runTrial(projectId: string, document: Document, trial: string): Promise<RunRecord | undefined> {
  if (useRuns.getState().state.kind === 'running') return undefined
  useRuns.setState({ state: { kind: 'running', trial, share: 0 } })
  try {
    const progress = proxy((share: number) =>
      useRuns.setState(({ state }) => (state.kind === 'running' ? { state: { ...state, share } } : {})),
    )
    const answer = await startedSimulator().run(document, trial, progress)
    if (answer.kind === 'refused') {
      useRuns.setState({ state: answer })
      return undefined
    }
    const { record, compileMs, runMs } = answer
    useRuns.setState(({ records, latest }) => ({
      state: { kind: 'idle' },
      records: { ...records, [record.hash]: record },
      latest: { ...latest, [trial]: { hash: record.hash, at: new Date().toISOString() } },
      took: { compile: compileMs, run: runMs },
    }))
    void keepWhenPossible(projectId, record)
    return record
  } catch (error) {
    if (useRuns.getState().state.kind === 'running')
      useRuns.setState({ state: { kind: 'failed', what: (error as Error).message } })
    return undefined
  }
}

/** Ends the run under way at once; what was there before stays. */
export function stopRun(): void {
  if (useRuns.getState().state.kind !== 'running') return
  worker?.terminate()
  worker = simulator = undefined
  useRuns.setState({ state: { kind: 'idle' } })
}

/** A record that cannot be delivered now is tried again: the database may be away for a while. */
async function keepWhenPossible(projectId: string, record: RunRecord, tries = 40): Promise<void> {
  if (await keepRun(projectId, record)) return
  if (tries > 0) window.setTimeout(() => void keepWhenPossible(projectId, record, tries - 1), 3000)
}
