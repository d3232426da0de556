import { wrap } from 'comlink'
import type { Remote } from 'comlink'
import { useEffect } from 'react'
import { create } from 'zustand'
import { contentHash } from '@calm-hand/core/document'
import type { Outcome, Part } from '@calm-hand/core/document'
import type { MechanismLayerName } from '@calm-hand/core/machine'
import type { Letters, Naming } from '@calm-hand/core/letters'
import type { ModelReport, MotionEffort } from '@calm-hand/core/simulation'
import type { Inspector } from '../workers/machine.worker'

interface Found {
  readonly done: Readonly<{ [hash: string]: unknown }>
  readonly failed: Readonly<{ [hash: string]: string }>
}

/** What a worker found, by the content of what it was asked. */
const useFound = create<Found>(() => ({ done: {}, failed: {} }))
/** A drag makes many machines; only the one that stays for this long is looked at. */
const settleMs = 250
/** Findings hold curves: the oldest go. */
const mostKept = 16

let inspector: Remote<Inspector> | undefined
const asked = new Set<string>()

export function startedInspector(): Remote<Inspector> {
  inspector ??= wrap<Inspector>(new Worker(new URL('../workers/machine.worker.ts', import.meta.url), { type: 'module' }))
  return inspector
}

export interface ReportState {
  readonly report: ModelReport | undefined
  readonly failure: string | undefined
}

/** The report of a machine, once it has been made; nothing while it is being made. */
export function useReport(machine: Part, layers: readonly MechanismLayerName[]): ReportState {
  const { found, failure } = useInspection(contentHash({ machine, layers }), () => startedInspector().report(machine, layers))
  return { report: found, failure }
}

export interface EffortState {
  readonly effort: Outcome<MotionEffort> | undefined
  readonly failure: string | undefined
}

/** What a motion of a machine asks of its drives; nothing while it is worked out, or without a motion. */
export function useEffort(machine: Part, motion: string | undefined, layers: readonly MechanismLayerName[]): EffortState {
  const hash = motion === undefined ? undefined : contentHash({ machine, motion, layers })
  const { found, failure } = useInspection<Outcome<MotionEffort>>(
    hash,
    async () => await startedInspector().effort(machine, motion!, layers),
  )
  return { effort: found, failure }
}

export interface LettersState {
  readonly letters: Outcome<Letters> | undefined
  readonly failure: string | undefined
}

/** The equations of a machine in letters, linear about `rest`; nothing while they are derived. */
export function useLetters(machine: Part, written: Part, naming: Naming, rest: readonly number[] | undefined): LettersState {
  const { found, failure } = useInspection<Outcome<Letters>>(
    contentHash({ machine, written, naming, rest }),
    async () => await startedInspector().letters(machine, written, naming, rest),
  )
  return { letters: found, failure }
}

function useInspection<Value>(
  hash: string | undefined,
  ask: () => Promise<Value>,
): { readonly found: Value | undefined; readonly failure: string | undefined } {
  const found = useFound(({ done }) => (hash === undefined ? undefined : done[hash])) as Value | undefined
  const failure = useFound(({ failed }) => (hash === undefined ? undefined : failed[hash]))
  useEffect(() => {
    if (hash === undefined) return
    const timer = window.setTimeout(() => void look(hash, ask), settleMs)
    return () => window.clearTimeout(timer)
    // the hash says everything about what is asked
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [hash])
  return { found, failure }
}

async function look(hash: string, ask: () => Promise<unknown>): Promise<void> {
  if (asked.has(hash)) return
  asked.add(hash)
  try {
    const value = await ask()
    useFound.setState(({ done }) => {
      const kept = Object.entries(done).slice(1 - mostKept)
      for (const gone of Object.keys(done).slice(0, 1 - mostKept)) asked.delete(gone)
      return { done: Object.fromEntries([...kept, [hash, value]]) }
    })
  } catch (error) {
    useFound.setState(({ failed }) => ({ failed: { ...failed, [hash]: (error as Error).message } }))
  }
}
