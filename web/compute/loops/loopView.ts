import { keptBy, pushOf } from '@calm-hand/core/control'
import { partsIn } from '@calm-hand/core/document'
import type { Document, LoopPart, Part, Problem } from '@calm-hand/core/document'
import { findKind, valuesOf } from '@calm-hand/core/kinds'
import { continuousPole, inWords } from '@calm-hand/core/linear'
import { findHeld } from '@calm-hand/core/machine'
import type { HeldQuantity, Push } from '@calm-hand/core/machine'
import { trialDuration } from '@calm-hand/core/simulation'
import {
  analyse,
  answerWindow,
  bargain,
  designLoop,
  disturbancesOf,
  findings,
  keptFigures,
  recoveryFigures,
  senseOf,
  tunings,
  takenOver,
} from '@calm-hand/core/tuning'
import type {
  BargainLine,
  Disturbance,
  Finding,
  Gains,
  LoopAnalysis,
  LoopDesign,
  LoopModel,
  LoopValues,
  OutOfReach,
  Prediction,
  Reaction,
  RecoveryFigures,
  ResponseFigures,
  Swing,
  WishName,
} from '@calm-hand/core/tuning'
import { disturbedBy } from '../../stations/loops/disturbedBy'
import { answerOf, askedOf, stepFigures, referenceLine } from './asked'
import type { Asked, AskedFor, Line } from './asked'

/** An answer with what was asked at its times. */
export interface Answered extends Prediction {
  readonly wanted: Float64Array
}

/** A design as plain values. */
export interface ShownDesign {
  readonly values: LoopValues
  readonly gains: Gains
  /** Of its law: names of its gains, and the signals that it reads beside what is held. */
  readonly law: { readonly gains: readonly string[]; readonly signals: readonly string[] }
  /** What it pushes, and what it holds, where the machine rests. */
  readonly nominalPush: number
  readonly nominalHeld: number
  /** s */
  readonly dt: number
  /** The plant in words, and whether other loops are closed in it. */
  readonly plant: { readonly words: string; readonly isCascade: boolean }
  /** Which way a push moves what is held. */
  readonly sense: 1 | -1
  /** What an experiment that its gains come from shows. */
  readonly experiment: Swing | Exclude<Reaction, OutOfReach> | undefined
  /** Its gains as if they had been typed, and its slowest closed-loop poles as rows, as many as it has gains. */
  readonly typed: Part
  readonly poles: readonly (readonly number[])[]
}

export interface Judged {
  readonly design: ShownDesign
  readonly analysis: LoopAnalysis
  /** The answer to what is asked. */
  readonly step: Answered
  /** Of the reference that steps or moves, also while a disturbance is charted. */
  readonly figures: ResponseFigures
  /** The largest command for it, about rest. */
  readonly beyondRest: number
  /** Of a disturbance that steps. */
  readonly recovery: RecoveryFigures | undefined
  /** What a step of the reference shows. */
  readonly findings: readonly Finding[]
  /** What the loop shall keep, as it is now. */
  readonly kept: Partial<Readonly<Record<WishName, number>>>
}

/** Everything the Loops station shows of one loop, as plain values. */
export interface LoopView {
  readonly quantity: HeldQuantity
  readonly axis: Push
  /** What the charts ask for. */
  readonly asked: AskedFor
  readonly reference: Line
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

/** `wanted` names a trial whose cues are asked for, or a disturbance. Nothing where there is no such loop. */
export function loopView(document: Document, loop: string, wanted?: string): LoopView | undefined {
  const part = document.loops[loop]
  if (part === undefined) return undefined
  const machine = document.machines[part.machine]!
  const quantity = findHeld(machine, part.holds)!
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
  const design = outcome.kind === 'done' ? outcome.value : undefined
  const plain = design === undefined ? undefined : judged(part, design, step, step, window, analysis)
  const by = disturbances.find(({ name }) => wanted === `${disturbedBy}${name}`)
  const asked =
    by === undefined || plain === undefined
      ? step
      : askedOf(document, loop, { ...step, disturbance: { name: by.name, size: disturbanceSize(by, stepSize, plain) } })
  const now = asked === step || design === undefined ? plain : judged(part, design, asked, step, window, analysis)
  const letter = Object.keys(document.tray)
    .filter((key) => document.tray[key]!.loops[loop] !== undefined)
    .at(-1)
  const pinnedDesign = letter === undefined ? undefined : designLoop({ ...document, loops: document.tray[letter]!.loops }, loop)
  const pinned =
    letter !== undefined && pinnedDesign?.kind === 'done'
      ? { letter, judged: judged(document.tray[letter]!.loops[loop]!, pinnedDesign.value, asked, step, window) }
      : undefined
  return {
    quantity,
    axis,
    asked: wordsOf(asked),
    reference: referenceLine(asked, window),
    trials,
    disturbances,
    window,
    now,
    problems: outcome.kind === 'refused' ? outcome.problems : [],
    pinned,
    bargain: now === undefined || pinned === undefined ? [] : bargain(now, pinned.judged),
  }
}

/** Lengths of time within a decade. Few, as with every other one axes jump under a hand that turns the loop. */
const roundLengths = [1, 1.2, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10]

/** s: long enough for the loop at its crossover and for its slow poles, in round numbers. */
function windowOf(model: LoopModel | undefined, analysis: LoopAnalysis | undefined): number {
  const crossover = analysis?.crossover
  if (crossover === undefined || model === undefined || analysis === undefined) return usualWindow
  const wanted = Math.max(leastWindow, answerWindow(model, analysis, crossover, crossoversSeen))
  const decade = 10 ** Math.floor(Math.log10(wanted))
  return Number((decade * roundLengths.find((length) => length * decade >= wanted * (1 - 1e-9))!).toPrecision(2))
}

/** The first step or rise that a trial asks of the loop; else a round one. */
function stepSizeOf(document: Document, loop: string, unit: string): number {
  const cues = Object.values(document.trials).flatMap(({ cues: all }) => Object.values(partsIn(all)))
  const sizes = cues.flatMap(({ loop: moved, by }) =>
    moved === loop && typeof by === 'number' && by !== 0 ? [Math.abs(by)] : [],
  )
  return sizes[0] ?? (unit === 'rad' ? angleStep : 1)
}

function trialsOf(document: Document, loop: string): Readonly<Record<string, string>> {
  const moving = Object.entries(document.trials).filter(([, { cues }]) =>
    Object.values(partsIn(cues)).some((cue) => cue.loop === loop),
  )
  return Object.fromEntries(moving.map(([name, { title }]) => [name, title]))
}

/** Of a disturbance by half of what the step takes, or as much as the step; of others a tenth of where they rest, or one. */
function disturbanceSize({ name }: Disturbance, stepSize: number, { beyondRest }: Judged): number {
  if (name === 'reading') return stepSize
  if (name !== 'push') return 1
  return beyondRest > 0 ? Number((beyondRest / 2).toPrecision(1)) : 1
}

function wordsOf({ trial, stepSize, stepAt, disturbance }: Asked): AskedFor {
  return { trial, stepSize, stepAt, disturbance }
}

/** An answer with what was asked at its times. */
export function withWanted(answer: Prediction, { motion }: Asked): Answered {
  return { ...answer, wanted: answer.t.map((t) => motion(t)[0]) }
}

function judged(
  part: LoopPart,
  design: LoopDesign,
  asked: Asked,
  step: Asked,
  window: number,
  analysis = analyse(design.model, design.gains),
): Judged {
  const { model, gains, nominalPush } = design
  const answer = (what: Asked) => answerOf(design, what, window, { feedback: design.values.closed, feedforward: undefined })
  const shown = answer(asked)
  const isDisturbed = asked.disturbance !== undefined
  const asReference = isDisturbed ? answer(step) : shown
  const figures = stepFigures(asReference, step)
  const wishes = Object.keys(keptBy(part)) as WishName[]
  return {
    ...{ design: shownDesign(part, design, analysis), analysis, step: withWanted(shown, asked), figures },
    beyondRest: asReference.push.reduce((most, value) => Math.max(most, Math.abs(value - nominalPush)), 0),
    recovery: isDisturbed ? recoveryFigures(shown.t, shown.held, asked.stepAt) : undefined,
    findings: findings({ design, analysis, figures, step: shown, stepSize: step.stepSize }),
    kept: keptFigures(model, gains, step.stepSize, wishes, () => shown.t.at(-1) ?? 1) ?? {},
  }
}

/** rad a sample: slow beside the loop, above its integrators */
const slow = 1e-3

function shownDesign(part: LoopPart, design: LoopDesign, analysis: LoopAnalysis): ShownDesign {
  const { values, gains, nominalPush, nominalHeld, model } = design
  const { law, plant, dt } = model
  return {
    ...{ values, gains, nominalPush, nominalHeld, dt },
    law: { gains: law.gains, signals: law.signals },
    plant: { words: inWords(plant), isCascade: plant.dt !== null },
    sense: law.notLinear === undefined ? senseOf(model, slow / dt) : 1,
    experiment: experimentOf(model, part.tuning),
    typed: takenOver(design, analysis),
    poles: slowestPoles(model, analysis),
  }
}

function experimentOf(model: LoopModel, tuning: Part): ShownDesign['experiment'] {
  const kind = findKind(tunings, tuning)!
  const seen = kind.shows?.(model, valuesOf(kind, tuning))
  return seen?.kind === 'outOfReach' ? undefined : seen
}

function slowestPoles({ law, dt }: LoopModel, { closedPoles }: LoopAnalysis): number[][] {
  const rounded = (value: number) => Number(value.toPrecision(4))
  return closedPoles
    .map((pole) => continuousPole(pole, dt))
    .sort((a, b) => b.re - a.re || Math.abs(a.im) - Math.abs(b.im) || a.im - b.im)
    .map(({ re, im }) => [rounded(re), rounded(im)])
    .slice(0, law.gains.length)
}
