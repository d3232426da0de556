import { useMemo } from 'react'
import type { Document, Problem } from '@calm-hand/core/document'
import { pushOf } from '@calm-hand/core/control'
import { findHeld } from '@calm-hand/core/machine'
import type { HeldQuantity, Push } from '@calm-hand/core/machine'
import { analyse, bargain, designLoop, predict, responseFigures } from '@calm-hand/core/tuning'
import type { BargainLine, LoopAnalysis, LoopDesign, Prediction, ResponseFigures } from '@calm-hand/core/tuning'

export interface Judged {
  readonly design: LoopDesign
  readonly analysis: LoopAnalysis
  readonly step: Prediction
  readonly figures: ResponseFigures
}

export interface LoopView {
  readonly quantity: HeldQuantity
  readonly axis: Push
  /** Step asked for in the charts, in the held quantity's unit. */
  readonly stepSize: number
  /** s: how long steps are looked at. */
  readonly window: number
  readonly now: Judged | undefined
  readonly problems: readonly Problem[]
  readonly pinned: { readonly letter: string; readonly judged: Judged } | undefined
  readonly bargain: readonly BargainLine[]
}

export type Combination = { readonly feedback: boolean; readonly feedforward: boolean }

/** s: at least, long beside a quick loop, short enough to see its rise; slow ones are looked at for some of their own times. */
const leastWindow = 5
const crossoversSeen = 20
const stepAt = 0.5 // s
const angleStep = (5 * Math.PI) / 180

/** Everything the Loops station shows of one loop; recomputed with each change of the document. */
export function useLoopView(document: Document, loop: string): LoopView {
  return useMemo(() => loopView(document, loop), [document, loop])
}

export function loopView(document: Document, loop: string): LoopView {
  const part = document.loops[loop]!
  const machine = document.machines[part.machine as string]!
  const quantity = findHeld(machine, part.holds as string)!
  const axis = pushOf(document, part)!
  const stepSize = quantity.unit === 'rad' ? angleStep : 1
  const outcome = designLoop(document, loop)
  const analysis = outcome.kind === 'done' ? analyse(outcome.value.model, outcome.value.gains) : undefined
  const window = windowOf(analysis?.crossover)
  const now = outcome.kind === 'done' ? judged(outcome.value, stepSize, window, analysis) : undefined
  const letter = Object.keys(document.tray)
    .filter((key) => document.tray[key]!.loops[loop] !== undefined)
    .at(-1)
  const pinnedDesign = letter === undefined ? undefined : designLoop({ ...document, loops: document.tray[letter]!.loops }, loop)
  const pinned =
    letter !== undefined && pinnedDesign?.kind === 'done'
      ? { letter, judged: judged(pinnedDesign.value, stepSize, window) }
      : undefined
  return {
    quantity,
    axis,
    stepSize,
    window,
    now,
    problems: outcome.kind === 'refused' ? outcome.problems : [],
    pinned,
    bargain: now === undefined || pinned === undefined ? [] : bargain(now, pinned.judged),
  }
}

/** Long enough for the loop at its crossover, in round seconds. */
function windowOf(crossover: number | undefined): number {
  return crossover === undefined ? leastWindow : Math.max(leastWindow, Math.ceil(crossoversSeen / crossover))
}

function judged(design: LoopDesign, stepSize: number, window: number, analysis = analyse(design.model, design.gains)): Judged {
  const step = stepOf(design, stepSize, window, { feedback: design.values.closed, feedforward: undefined })
  return { design, analysis, step, figures: figuresOf(step, stepSize) }
}

/** The predicted step, with feedback and feedforward as designed or as asked. The push is absolute. */
export function stepOf(
  design: LoopDesign,
  stepSize: number,
  window: number,
  choice: { feedback: boolean; feedforward: boolean | undefined },
): Prediction {
  const feedforward =
    choice.feedforward === undefined ? design.feedforward : choice.feedforward ? design.feedforward || design.nominalPush : 0
  const prediction = predict(design.model, {
    gains: design.gains,
    reference: (t) => (t >= stepAt - 1e-9 ? stepSize : 0),
    imbalance: feedforward - design.nominalPush,
    closed: choice.feedback,
    until: window,
  })
  return { ...prediction, push: prediction.push.map((value) => value + design.nominalPush) }
}

export function figuresOf(step: Prediction, stepSize: number): ResponseFigures {
  return responseFigures(step.t, step.held, step.push, stepAt, 0, stepSize)
}

export function stepReference(stepSize: number, window: number): { xs: number[]; ys: number[] } {
  return { xs: [0, stepAt, window], ys: [0, stepSize, stepSize] }
}
