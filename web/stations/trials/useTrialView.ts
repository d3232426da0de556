import { useMemo } from 'react'
import type { Document, Part } from '@calm-hand/core/document'
import { pushOf } from '@calm-hand/core/control'
import { findHeld } from '@calm-hand/core/machine'
import type { HeldQuantity, Push } from '@calm-hand/core/machine'
import { cues as cueKinds, figuresOf, findColumn, runHash } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import type { Prediction, ResponseFigures } from '@calm-hand/core/tuning'
import { pinRun } from '../../state/edits'
import { edit, useProject } from '../../state/project'
import { useRuns } from '../../state/runs'
import { usePrediction } from '../../state/together'
import { freeLetter } from '../../tray/letters'

export interface PinnedRun {
  readonly letter: string
  readonly title: string
  readonly record: RunRecord
  readonly figures: ResponseFigures | undefined
}

export interface TrialView {
  readonly trial: string
  readonly machineName: string
  readonly machine: Part
  /** The loop whose strips are shown: the one asked for, or that which the trial's cues move first. */
  readonly loop: string
  /** All loops of the machine. */
  readonly loops: readonly string[]
  /** Whether another loop commands it: its reference is then known from the run alone. */
  readonly isCommanded: boolean
  readonly quantity: HeldQuantity
  readonly push: Push
  readonly record: RunRecord | undefined
  /** The record belongs to an earlier state of the document. */
  readonly stale: boolean
  readonly prediction: Prediction | undefined
  readonly figures: { readonly simulated: ResponseFigures | undefined; readonly predicted: ResponseFigures | undefined }
  readonly pinned: readonly PinnedRun[]
  readonly end: number
}

/** Everything the Trials station shows of one trial. */
export function useTrialView(
  document: Document,
  trial: string,
  hidden: ReadonlySet<string>,
  watched: string | undefined,
): TrialView {
  const records = useRuns((runs) => runs.records)
  const latest = useRuns((runs) => runs.latest[trial]?.hash)
  const computed = useMemo(() => planned(document, trial, watched), [document, trial, watched])
  const prediction = usePrediction(document, trial, computed.loop)
  return useMemo(() => {
    const current = runHash(document, trial)
    // the run of just this document wins over a later run of another state: undo brings its record back
    const record = records[current] ?? (latest === undefined ? undefined : records[latest])
    const pinned = Object.entries(document.tray).flatMap(([letter, pin]): PinnedRun[] => {
      const found = records[pin.run]
      if (found === undefined || pin.trial !== trial || hidden.has(letter)) return []
      return [{ letter, title: pin.title, record: found, figures: figuresFor(document, trial, computed.loop, found) }]
    })
    const simulated = record === undefined ? undefined : figuresFor(document, trial, computed.loop, record)
    // what another loop asks of it is no step, of which there could be figures
    const predicted =
      prediction === undefined || computed.isCommanded
        ? undefined
        : figuresOf(document, trial, computed.loop, prediction.t, prediction.held, prediction.push)
    return {
      ...computed,
      record,
      stale: record !== undefined && record.hash !== current,
      prediction,
      figures: { simulated, predicted },
      pinned,
      end: record?.time.at(-1) ?? 0,
    }
  }, [document, trial, records, latest, hidden, computed, prediction])
}

function planned(document: Document, trial: string, watched: string | undefined) {
  const part = document.trials[trial]!
  const loops = Object.keys(document.loops).filter((name) => document.loops[name]!.machine === part.machine)
  const first =
    (Object.values(part.cues as Readonly<Record<string, Part>>)[0]?.loop as string | undefined) ?? Object.keys(document.loops)[0]!
  const loop = watched !== undefined && loops.includes(watched) ? watched : first
  const { holds, reference } = document.loops[loop] as unknown as { holds: string; reference: string }
  const isCommanded = reference === 'command'
  const machineName = part.machine as string
  const machine = document.machines[machineName]!
  return {
    trial,
    machineName,
    machine,
    loop,
    loops,
    isCommanded,
    quantity: findHeld(machine, holds)!,
    push: pushOf(document, document.loops[loop]!)!,
  }
}

function figuresFor(document: Document, trial: string, loop: string, record: RunRecord): ResponseFigures | undefined {
  const part = document.loops[loop] as unknown as { machine: string; holds: string }
  const held = findColumn(record, `${part.machine}.${part.holds}`)
  const push = findColumn(record, `loops.${loop}.command`)
  return held === undefined || push === undefined ? undefined : figuresOf(document, trial, loop, record.time, held, push)
}

/** Times at which cues begin, in order, s. */
export function cueTimes(document: Document, trial: string): number[] {
  const all = Object.values(document.trials[trial]!.cues as Readonly<Record<string, Part>>)
  return [...new Set(all.map(({ at }) => at as number))].sort((a, b) => a - b)
}

export function cueSays(kind: string): string {
  return cueKinds.find(({ name }) => name === kind)?.says ?? ''
}

/** Pins what is shown: the run of this document if it was flown, else the latest. */
export function pinLatest(trial: string): void {
  const { project } = useProject.getState()
  const { records, latest } = useRuns.getState()
  if (project === undefined) return
  const current = runHash(project.valid, trial)
  const hash = records[current] !== undefined ? current : latest[trial]?.hash
  if (hash === undefined) return
  const letter = freeLetter(project.valid.tray)
  edit(pinRun(letter, { title: titleOf(project.valid, trial), trial, run: hash, loops: project.valid.loops }))
}

/** What tells this run from others: gains asked for, and what the trial changes. */
function titleOf(document: Document, trial: string): string {
  const first = Object.values(document.loops)[0] as unknown as { tuning: { kind: string; crossover?: number; kp?: number } }
  const gains =
    first.tuning.kind === 'requirement'
      ? `${first.tuning.crossover?.toPrecision(3)} rad/s`
      : `kp ${first.tuning.kp?.toPrecision(3)}`
  const changes = Object.values(document.trials[trial]!.overrides as Readonly<Record<string, Part>>).map(
    ({ parameter, how, amount }) => `${String(parameter).split('.').at(-1)} ${how === 'times' ? '×' : '='}${String(amount)}`,
  )
  return [gains, ...changes].join(', ')
}
