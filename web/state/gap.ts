import { create } from 'zustand'
import type { Document, Problem } from '@calm-hand/core/document'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import type { GapPlan, GapRun } from '@calm-hand/core/study'
import { answerTo, inPieces } from '../compute'

/** The runs that an account of the gap is made of. */
export interface GapRuns {
  readonly plan: GapPlan
  readonly runs: readonly GapRun[]
  /** s that they took. */
  readonly seconds: number
}

export type GapState =
  | { readonly kind: 'none' }
  | { readonly kind: 'working'; readonly done: number; readonly all: number; readonly secondsLeft: number | undefined }
  | { readonly kind: 'done'; readonly found: GapRuns }
  | { readonly kind: 'refused'; readonly problems: readonly Problem[] }
  | { readonly kind: 'failed'; readonly what: string }

interface Gap {
  /** What it is about: a run of a trial, and what of it is looked at. */
  readonly key: string
  readonly trial: string
  readonly state: GapState
}

const none: Gap = { key: '', trial: '', state: { kind: 'none' } }

/** The last account that was asked for: one alone, since its runs take their room. */
export const useGap = create<Gap>(() => none)

/** Share of the runs from which the time that is left is told. */
const leastKnown = 0.1

/** What an account depends on besides the document's run: what is watched has its differences kept. */
export function gapKey(document: Document, trial: string, record: Pick<RunRecord, 'hash'>): string {
  return `${record.hash} ${JSON.stringify(document.trials[trial]!.watch ?? {})}`
}

/** Runs every coalition that the account of a trial asks for, several at once. */
export async function workOutGap(document: Document, trial: string, record: RunRecord): Promise<void> {
  const key = gapKey(document, trial, record)
  const came = record.cues ?? []
  const isWanted = () => useGap.getState().key === key && useGap.getState().state.kind === 'working'
  const tell = (state: GapState) => isWanted() && useGap.setState({ state })
  useGap.setState({ key, trial, state: { kind: 'working', done: 0, all: 0, secondsLeft: undefined } })
  const began = performance.now()
  try {
    const ask = { document, lane: 'study', rank: 1 } as const
    const plan = await answerTo({ ...ask, name: 'gapPlan', rest: [trial, came], subject: `gap ${key}` })
    if (plan.kind === 'refused') return void tell(plan)
    const all = plan.value.coalitions.length
    const runs: GapRun[] = []
    let refused: readonly Problem[] | undefined
    await inPieces(plan.value.pieces, isWanted, async (piece) => {
      const subject = `gap ${key} ${piece[0]}`
      const made = await answerTo({ ...ask, name: 'gapRun', rest: [trial, came, piece], subject })
      if (made.kind === 'refused') refused = made.problems
      if (made.kind === 'refused' || refused !== undefined) return false
      runs.push(...made.value)
      const each = (performance.now() - began) / 1000 / runs.length
      // the first are slow: what works them out has just been started
      const secondsLeft = runs.length < all * leastKnown ? undefined : each * (all - runs.length)
      tell({ kind: 'working', done: runs.length, all, secondsLeft })
      return true
    })
    if (refused !== undefined) return void tell({ kind: 'refused', problems: refused })
    tell({ kind: 'done', found: { plan: plan.value, runs, seconds: (performance.now() - began) / 1000 } })
  } catch (error) {
    tell({ kind: 'failed', what: (error as Error).message })
  }
}

/** Breaks it off: what was run so far is let go. */
export function cancelGap(): void {
  useGap.setState(none)
}

/** The runs with what they say of one signal alone: of the rest nothing need be sent. */
export function ofSignal({ plan, runs }: GapRuns, name: string): Pick<GapRuns, 'plan' | 'runs'> {
  const at = plan.signals.findIndex((one) => one.name === name)
  return {
    plan: { ...plan, signals: plan.signals.slice(at, at + 1) },
    runs: runs.map((run) => ({ ...run, differences: run.differences.slice(at, at + 1) })),
  }
}
