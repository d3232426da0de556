import { useMemo } from 'react'
import type { Document, Part, Problem } from '@calm-hand/core/document'
import { pushOf } from '@calm-hand/core/control'
import { findHeld } from '@calm-hand/core/machine'
import type { HeldQuantity, Push } from '@calm-hand/core/machine'
import { trialDuration } from '@calm-hand/core/simulation'
import { analyse, answerWindow, bargain, designLoop, disturbancesOf, recoveryFigures } from '@calm-hand/core/tuning'
import type {
  BargainLine,
  Disturbance,
  LoopAnalysis,
  LoopDesign,
  LoopModel,
  Prediction,
  RecoveryFigures,
  ResponseFigures,
} from '@calm-hand/core/tuning'
import { answerOf, askedOf, figuresOf } from './asked'
import type { Asked } from './asked'

export interface Judged {
  readonly design: LoopDesign
  readonly analysis: LoopAnalysis
  /** The answer to what is asked. */
  readonly step: Prediction
  /** Of the reference that steps or moves, also while a disturbance is charted. */
  readonly figures: ResponseFigures
  /** The largest command for it, about rest. */
  readonly beyondRest: number
  /** Of a disturbance that steps. */
  readonly recovery: RecoveryFigures | undefined
}

export interface LoopView {
  readonly quantity: HeldQuantity
  readonly axis: Push
  /** What the charts ask for. */
  readonly asked: Asked
  /** Trials whose cues move this loop, with their titles: what else can be asked for. */
  readonly trials: Readonly<Record<string, string>>
  /** What may disturb it. */
  readonly disturbances: readonly Disturbance[]
  /** s: how long steps are looked at. */
  readonly window: number
  readonly now: Judged | undefined
  readonly problems: readonly Problem[]
  readonly pinned: { readonly letter: string; readonly judged: Judged } | undefined
  readonly bargain: readonly BargainLine[]
}

/** s: without a crossover to go by, and at least. */
const usualWindow = 5
const leastWindow = 0.5
/** Times of the crossover that are looked at, and when within them the step comes. */
const crossoversSeen = 20
const stepShare = 0.1
const angleStep = (5 * Math.PI) / 180

/** Everything the Loops station shows of one loop; recomputed with each change of the document. */
export function useLoopView(document: Document, loop: string, wanted: string | undefined): LoopView {
  return useMemo(() => loopView(document, loop, wanted), [document, loop, wanted])
}

/** Before the name of a disturbance among what can be asked. */
export const disturbedBy = 'disturbed by '

export function loopView(document: Document, loop: string, wanted?: string): LoopView {
  const part = document.loops[loop]!
  const machine = document.machines[part.machine as string]!
  const quantity = findHeld(machine, part.holds as string)!
  const axis = pushOf(document, part)!
  const trials = trialsOf(document, loop)
  const trial = wanted !== undefined && wanted in trials ? wanted : undefined
  const stepSize = stepSizeOf(document, loop, quantity.unit)
  const outcome = designLoop(document, loop)
  const analysis = outcome.kind === 'done' ? analyse(outcome.value.model, outcome.value.gains) : undefined
  const window =
    trial === undefined
      ? windowOf(outcome.kind === 'done' ? outcome.value.model : undefined, analysis)
      : trialDuration(document.trials[trial] as never)
  const stepAt = stepShare * window
  const step = askedOf(document, loop, { trial, stepSize, stepAt, disturbance: undefined })
  const disturbances = disturbancesOf(document, loop)
  const plain = outcome.kind === 'done' ? judged(outcome.value, step, step, window, analysis) : undefined
  const by = disturbances.find(({ name }) => wanted === `${disturbedBy}${name}`)
  const asked =
    by === undefined || plain === undefined
      ? step
      : askedOf(document, loop, { ...step, disturbance: { name: by.name, size: disturbanceSize(by, stepSize, plain) } })
  const now = asked === step || plain === undefined ? plain : judged(plain.design, asked, step, window, analysis)
  const letter = Object.keys(document.tray)
    .filter((key) => document.tray[key]!.loops[loop] !== undefined)
    .at(-1)
  const pinnedDesign = letter === undefined ? undefined : designLoop({ ...document, loops: document.tray[letter]!.loops }, loop)
  const pinned =
    letter !== undefined && pinnedDesign?.kind === 'done'
      ? { letter, judged: judged(pinnedDesign.value, asked, step, window) }
      : undefined
  return {
    quantity,
    axis,
    asked,
    trials,
    disturbances,
    window,
    now,
    problems: outcome.kind === 'refused' ? outcome.problems : [],
    pinned,
    bargain: now === undefined || pinned === undefined ? [] : bargain(now, pinned.judged),
  }
}

/** Long enough for the loop at its crossover and for its slow poles, in round seconds or tenths. */
function windowOf(model: LoopModel | undefined, analysis: LoopAnalysis | undefined): number {
  const crossover = analysis?.crossover
  if (crossover === undefined || model === undefined || analysis === undefined) return usualWindow
  const wanted = answerWindow(model, analysis, crossover, crossoversSeen)
  const grain = wanted > 2 ? 1 : 0.1
  return Math.max(leastWindow, Number((Math.ceil(wanted / grain - 1e-9) * grain).toFixed(1)))
}

/** The first step or rise that a trial asks of the loop; else a round one. */
function stepSizeOf(document: Document, loop: string, unit: string): number {
  const cues = Object.values(document.trials).flatMap(({ cues: all }) => Object.values(all as Readonly<Record<string, Part>>))
  const sizes = cues.flatMap(({ loop: moved, by }) =>
    moved === loop && typeof by === 'number' && by !== 0 ? [Math.abs(by)] : [],
  )
  return sizes[0] ?? (unit === 'rad' ? angleStep : 1)
}

function trialsOf(document: Document, loop: string): Readonly<Record<string, string>> {
  const moving = Object.entries(document.trials).filter(([, { cues }]) =>
    Object.values(cues as Readonly<Record<string, Part>>).some((cue) => cue.loop === loop),
  )
  return Object.fromEntries(moving.map(([name, { title }]) => [name, title as string]))
}

/** Of a disturbance by half of what the step takes, or as much as the step; of others a tenth of where they rest, or one. */
function disturbanceSize({ name }: Disturbance, stepSize: number, { beyondRest }: Judged): number {
  if (name === 'reading') return stepSize
  if (name !== 'push') return 1
  return beyondRest > 0 ? Number((beyondRest / 2).toPrecision(1)) : 1
}

function judged(
  design: LoopDesign,
  asked: Asked,
  step: Asked,
  window: number,
  analysis = analyse(design.model, design.gains),
): Judged {
  const answer = (what: Asked) => answerOf(design, what, window, { feedback: design.values.closed, feedforward: undefined })
  const shown = answer(asked)
  const isDisturbed = asked.disturbance !== undefined
  const asReference = isDisturbed ? answer(step) : shown
  return {
    ...{ design, analysis, step: shown },
    figures: figuresOf(asReference, step),
    beyondRest: asReference.push.reduce((most, value) => Math.max(most, Math.abs(value - design.nominalPush)), 0),
    recovery: isDisturbed ? recoveryFigures(shown.t, shown.held, asked.stepAt) : undefined,
  }
}
