import { useEffect, useMemo } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { pushOf } from '@calm-hand/core/control'
import { requirement, typedGains } from '@calm-hand/core/tuning'
import { partOf } from '@calm-hand/core/kinds'
import { sceneOf } from '@calm-hand/core/scene'
import { findHeld, heldQuantities } from '@calm-hand/core/machine'
import type { HeldQuantity, Push } from '@calm-hand/core/machine'
import {
  asItCame,
  cueTimes as timesOfCues,
  figuresOf,
  findColumn,
  never,
  runHash,
  familySignals,
  signalsOf,
  watched as watchedKind,
  watchedPath,
  watchedSignals,
  withTouches,
} from '@calm-hand/core/simulation'
import type { Record as RunRecord, RunSignal, TrialFigures, Verdict } from '@calm-hand/core/simulation'
import type { Prediction } from '@calm-hand/core/tuning'
import { pinRun } from '../../state/edits'
import { edit, useProject } from '../../state/project'
import { useFollowing } from '../../state/following'
import { useIsLive, useLive } from '../../state/live'
import { loadRun, useRuns } from '../../state/runs'
import { usePrediction, useWatchedPrediction } from '../../state/together'
import { useVerdicts } from '../../state/verdicts'
import { freeLetter } from '../../tray/letters'
import { shownLayers } from './shownLayers'

export interface PinnedRun {
  readonly letter: string
  readonly title: string
  readonly record: RunRecord
  readonly figures: TrialFigures | undefined
}

/** The loop whose strips are shown. */
export interface HeldView {
  readonly loop: string
  /** Whether another loop commands it: its reference is then known from the run alone. */
  readonly isCommanded: boolean
  readonly quantity: HeldQuantity
  readonly push: Push
  readonly prediction: Prediction | undefined
  readonly figures: { readonly simulated: TrialFigures | undefined; readonly predicted: TrialFigures | undefined }
}

export interface WatchedSignal extends RunSignal {
  readonly predicted: { readonly t: Float64Array; readonly values: Float64Array } | undefined
}

/** One sentence of what is watched. */
export interface WatchView {
  /** Its name in the trial; nothing where the trial says none and the first quantities stand in. */
  readonly key: string | undefined
  /** Whether one signal is drawn over another, rather than all over time. */
  readonly isPath: boolean
  readonly part: Part
  /** In the order of the sentence. */
  readonly signals: readonly WatchedSignal[]
}

export interface TrialView {
  readonly trial: string
  /** The document with the cues of the trial as they came in the run that is shown. */
  readonly clocked: Document
  readonly machineName: string
  readonly machine: Part
  /** What is around it. */
  readonly scene: Part | undefined
  /** The loop asked for, or that which the trial's cues move first; nothing where the machine has none. */
  readonly held: HeldView | undefined
  /** Realism layers that people see. */
  readonly layers: ReturnType<typeof shownLayers>
  /** All loops of the machine. */
  readonly loops: readonly string[]
  /** What is watched besides. */
  readonly watches: readonly WatchView[]
  /** Signals of the chart for print. */
  readonly printed: readonly WatchedSignal[]
  /** All signals of these, each once, and what the linear machine says of those that have a linear form. */
  readonly watched: readonly WatchedSignal[]
  readonly record: RunRecord | undefined
  /** A person has it in hand: the record grows. */
  readonly isLive: boolean
  /** The record belongs to an earlier state of the document. */
  readonly stale: boolean
  /** What the record says of the checks; nothing while it is judged, or without one. */
  readonly verdicts: readonly Verdict[] | undefined
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
  const current = useMemo(() => runHash(document, trial), [document, trial])
  useBroughtBack(current)
  const computed = useMemo(() => planned(document, trial, watched), [document, trial, watched])
  const loop = computed.held?.loop
  // the run of just this document wins over a later run of another state: undo brings its record back
  const kept = records[current] ?? (latest === undefined ? undefined : records[latest])
  const following = useFollowing(document, trial)
  const isLive = useIsLive(trial)
  const live = useLive((one) => (isLive ? one.record : undefined))
  const touches = useLive((one) => (isLive ? one.touches : undefined))
  const record = isLive ? live : (following?.record ?? kept)
  const clocked = useMemo(
    () => asItCame(touches === undefined ? document : withTouches(document, trial, touches), trial, record?.cues),
    [document, trial, record, touches],
  )
  // what a hand will ask is not known beforehand
  const prediction = usePrediction(clocked, trial, isLive ? undefined : loop)
  const watches = useMemo(() => watchesOf(document, trial), [document, trial])
  const print = document.trials[trial]!.print as Part | undefined
  const names = useMemo(
    () => [
      ...new Set([...watches, ...(print === undefined ? [] : [{ part: print }])].flatMap(({ part }) => watchedSignals(part))),
    ],
    [watches, print],
  )
  const predictions = useWatchedPrediction(clocked, trial, computed.machineName, isLive ? nothing : names)
  const judged = useVerdicts(document, trial, kept)
  const judgedLive = useLive((one) => (isLive && one.verdicts?.length !== 0 ? one.verdicts : undefined))
  const verdicts = isLive ? judgedLive : (following?.verdicts ?? judged)
  return useMemo(() => {
    const pinned = Object.entries(document.tray).flatMap(([letter, pin]): PinnedRun[] => {
      const found = records[pin.run]
      if (found === undefined || pin.trial !== trial || hidden.has(letter)) return []
      return [
        {
          letter,
          title: pin.title,
          record: found,
          figures: figuresFor(asItCame(document, trial, found.cues), trial, loop, found),
        },
      ]
    })
    const simulated = record === undefined || isLive ? undefined : figuresFor(clocked, trial, loop, record)
    // what another loop asks of it is no step, of which there could be figures
    const predicted =
      prediction === undefined || computed.held === undefined || computed.held.isCommanded
        ? undefined
        : figuresOf(clocked, trial, computed.held.loop, prediction.t, prediction.held, prediction.push)
    const known = new Map(
      [...familySignals(record), ...signalsOf(document, trial, record)].map((signal) => [signal.name, signal]),
    )
    const asWatched = (name: string): WatchedSignal => {
      const values = predictions?.values[name.slice(computed.machineName.length + 1)]
      const predicted = values === undefined ? undefined : { t: predictions!.t, values }
      return { ...(known.get(name) ?? { name, label: `${name} (not in this run)`, unit: '' }), predicted }
    }
    const ofWatches = new Set(watches.flatMap(({ part }) => watchedSignals(part)))
    const watched = [...ofWatches].map(asWatched)
    return {
      ...computed,
      clocked,
      held: computed.held === undefined ? undefined : { ...computed.held, prediction, figures: { simulated, predicted } },
      watched,
      printed: print === undefined ? [] : watchedSignals(print).map(asWatched),
      watches: watches.map(({ key, part }) => ({
        ...{ key, part, isPath: part.kind === watchedPath.name },
        signals: watchedSignals(part).map((name) => watched.find((one) => one.name === name)!),
      })),
      record,
      isLive,
      stale: record !== undefined && !isLive && following === undefined && record.hash !== current,
      verdicts,
      pinned,
      end: record?.time.at(-1) ?? 0,
    }
  }, [
    document,
    clocked,
    trial,
    current,
    records,
    record,
    verdicts,
    hidden,
    computed,
    loop,
    prediction,
    watches,
    print,
    predictions,
    following,
    isLive,
  ])
}

const nothing: readonly string[] = []

/** A run whose record left memory is fetched from where it is kept, once its document is back. */
function useBroughtBack(hash: string): void {
  const project = useRuns((runs) => runs.projectId)
  const isAway = useRuns((runs) => runs.away.has(hash) && runs.records[hash] === undefined)
  useEffect(() => {
    if (isAway && project !== undefined) void loadRun(project, hash)
  }, [isAway, project, hash])
}

function planned(document: Document, trial: string, watched: string | undefined) {
  const part = document.trials[trial]!
  const machineName = part.machine
  const machine = document.machines[machineName]!
  const loops = Object.keys(document.loops).filter((name) => document.loops[name]!.machine === machineName)
  const moving = [...Object.values(partsIn(part.cues)), ...Object.values(partsIn(part.hands))]
  const cued = moving.flatMap(({ loop }) => (loop as string | undefined) ?? [])
  const loop = [watched ?? '', ...cued, ...loops].find((name) => loops.includes(name))
  const held = loop === undefined ? undefined : heldBy(document, machine, loop)
  const scene = sceneOf(document, trial)
  return { trial, machineName, machine, scene, loops, layers: shownLayers(document, machineName, trial), held }
}

function heldBy(document: Document, machine: Part, loop: string) {
  const { holds, reference } = document.loops[loop] as unknown as { holds: string; reference: string }
  return {
    loop,
    isCommanded: reference === 'command',
    quantity: findHeld(machine, holds)!,
    push: pushOf(document, document.loops[loop]!)!,
  }
}

/** Without a loop and without anything said, this many quantities are watched: what is moved, and how the machine answers. */
const firstWatched = 4

interface Watch {
  readonly key: string | undefined
  readonly part: Part
}

/** What is watched besides a loop: as the trial says, or without loops what is moved and the first quantities. */
function watchesOf(document: Document, trial: string): readonly Watch[] {
  const {
    machine: name,
    watch,
    cues,
  } = document.trials[trial] as unknown as {
    readonly machine: string
    readonly watch?: Readonly<Record<string, Part>>
    readonly cues: Readonly<Record<string, Part>>
  }
  const said = Object.entries(watch ?? {}).map(([key, part]) => ({ key, part }))
  const hasLoop = Object.values(document.loops).some(({ machine }) => machine === name)
  if (said.length > 0 || hasLoop) return said
  const moved = Object.values(cues).flatMap(({ loop }) => (loop as string | undefined) ?? [])
  const quantities = heldQuantities(document.machines[name]!).map((one) => `${name}.${one.name}`)
  const first = [...new Set([...moved, ...quantities])].slice(0, firstWatched)
  return first.map((signal) => ({ key: undefined, part: { kind: watchedKind.name, signal } }))
}

function figuresFor(document: Document, trial: string, loop: string | undefined, record: RunRecord): TrialFigures | undefined {
  const part = document.loops[loop ?? '']
  if (loop === undefined || part === undefined) return undefined
  const held = findColumn(record, `${part.machine}.${part.holds}`)
  const push = findColumn(record, `loops.${loop}.command`)
  return held === undefined || push === undefined ? undefined : figuresOf(document, trial, loop, record.time, held, push)
}

/** Times at which cues begin, in order, s; of a document whose cues are as they came. */
export function cueTimes(clocked: Document, trial: string): number[] {
  const all = timesOfCues(clocked.trials[trial]!).flatMap(({ begins }) => (begins < never ? [begins] : []))
  return [...new Set(all)].sort((a, b) => a - b)
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
  const { machine } = document.trials[trial]!
  const first = Object.values(document.loops).find((loop) => loop.machine === machine)
  const tuning = first?.tuning
  const typed = tuning?.kind === typedGains.name ? partOf(typedGains, tuning) : undefined
  const gains =
    tuning?.kind === requirement.name
      ? [`${partOf(requirement, tuning).crossover.toPrecision(3)} rad/s`]
      : typed?.kp !== undefined
        ? [`kp ${typed.kp.toPrecision(3)}`]
        : []
  const changes = Object.values(partsIn(document.trials[trial]!.overrides)).map(
    ({ parameter, how, amount }) => `${String(parameter).split('.').at(-1)} ${how === 'times' ? '×' : '='}${String(amount)}`,
  )
  return [...gains, ...changes].join(', ') || document.trials[trial]!.title
}
