import { useMemo } from 'react'
import type { Document, Part, Problem } from '@calm-hand/core/document'
import { pushOf } from '@calm-hand/core/control'
import { findHeld } from '@calm-hand/core/machine'
import type { HeldQuantity, Push } from '@calm-hand/core/machine'
import { continuousPole } from '@calm-hand/core/linear'
import { askedMotion, trialDuration } from '@calm-hand/core/simulation'
import type { ReferenceMotion } from '@calm-hand/core/simulation'
import { analyse, bargain, designLoop, predict, responseFigures } from '@calm-hand/core/tuning'
import type { BargainLine, LoopAnalysis, LoopDesign, LoopModel, Prediction, ResponseFigures } from '@calm-hand/core/tuning'

export interface Judged {
  readonly design: LoopDesign
  readonly analysis: LoopAnalysis
  readonly step: Prediction
  readonly figures: ResponseFigures
}

export interface LoopView {
  readonly quantity: HeldQuantity
  readonly axis: Push
  /** What the charts ask for. */
  readonly asked: Asked
  /** Trials whose cues move this loop, with their titles: what else can be asked for. */
  readonly trials: Readonly<Record<string, string>>
  /** s: how long steps are looked at. */
  readonly window: number
  readonly now: Judged | undefined
  readonly problems: readonly Problem[]
  readonly pinned: { readonly letter: string; readonly judged: Judged } | undefined
  readonly bargain: readonly BargainLine[]
}

/** A reference as the charts ask for it, about where the machine rests. */
export interface Asked {
  /** A step, or the cues of the trial of this name. */
  readonly trial: string | undefined
  /** Of a step, in the held quantity's unit. */
  readonly stepSize: number
  /** s */
  readonly stepAt: number
  readonly motion: ReferenceMotion
}

export type Combination = { readonly feedback: boolean; readonly feedforward: boolean }

/** s: without a crossover to go by, and at least. */
const usualWindow = 5
const leastWindow = 0.5
/** Times of the crossover that are looked at, and when within them the step comes. */
const crossoversSeen = 20
/** Time constants of its slowest pole, those far slower than the crossover apart. */
const slowPolesSeen = 5
const farSlower = 0.02
const stepShare = 0.1
const angleStep = (5 * Math.PI) / 180

/** Everything the Loops station shows of one loop; recomputed with each change of the document. */
export function useLoopView(document: Document, loop: string, trial: string | undefined): LoopView {
  return useMemo(() => loopView(document, loop, trial), [document, loop, trial])
}

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
  const asked: Asked = {
    ...{ trial, stepSize, stepAt },
    motion: trial === undefined ? (t) => [t >= stepAt - 1e-9 ? stepSize : 0, 0, 0] : askedMotion(document, trial, loop),
  }
  const now = outcome.kind === 'done' ? judged(outcome.value, asked, window, analysis) : undefined
  const letter = Object.keys(document.tray)
    .filter((key) => document.tray[key]!.loops[loop] !== undefined)
    .at(-1)
  const pinnedDesign = letter === undefined ? undefined : designLoop({ ...document, loops: document.tray[letter]!.loops }, loop)
  const pinned =
    letter !== undefined && pinnedDesign?.kind === 'done'
      ? { letter, judged: judged(pinnedDesign.value, asked, window) }
      : undefined
  return {
    quantity,
    axis,
    asked,
    trials,
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
  const quick = crossoversSeen / crossover
  const paces = analysis.closedPoles.map((pole) => -continuousPole(pole, model.dt).re)
  const slowest = Math.min(...paces.filter((pace) => pace > farSlower * crossover), crossover)
  const wanted = analysis.stable ? Math.max(quick, slowPolesSeen / slowest) : quick
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

function judged(design: LoopDesign, asked: Asked, window: number, analysis = analyse(design.model, design.gains)): Judged {
  const step = answerOf(design, asked, window, { feedback: design.values.closed, feedforward: undefined })
  return { design, analysis, step, figures: figuresOf(step, asked) }
}

/** The predicted answer, with feedback and feedforward as designed or as asked. The push is absolute. */
export function answerOf(
  design: LoopDesign,
  { motion }: Asked,
  window: number,
  choice: { feedback: boolean; feedforward: boolean | undefined },
): Prediction {
  const { constant, linear } = design.forward
  const isOn = choice.feedforward !== false
  // a loop without feedforward is compared with what holds it at rest
  const isBare = constant === 0 && linear === undefined
  const carried = !isOn ? 0 : choice.feedforward === true && isBare ? design.nominalPush : constant
  const prediction = predict(design.model, {
    gains: design.gains,
    reference: motion,
    imbalance: carried - design.nominalPush,
    forward: isOn ? linear : undefined,
    closed: choice.feedback,
    until: window,
  })
  return { ...prediction, push: prediction.push.map((value) => value + design.nominalPush) }
}

/** Of a step the figures of its response; of the cues of a trial those from where the last reference began. */
export function figuresOf(answer: Prediction, { trial, stepSize, stepAt, motion }: Asked): ResponseFigures {
  const last = answer.t.at(-1) ?? 0
  return trial === undefined
    ? responseFigures(answer.t, answer.held, answer.push, stepAt, 0, stepSize)
    : responseFigures(answer.t, answer.held, answer.push, 0, motion(0)[0], motion(last)[0])
}

/** The reference as points of a line. */
export function referenceLine({ trial, stepSize, stepAt, motion }: Asked, window: number): { xs: number[]; ys: number[] } {
  if (trial === undefined) return { xs: [0, stepAt, stepAt, window], ys: [0, 0, stepSize, stepSize] }
  const xs = Array.from({ length: drawnPoints + 1 }, (_, i) => (window * i) / drawnPoints)
  return { xs, ys: xs.map((t) => motion(t)[0]) }
}

const drawnPoints = 300
