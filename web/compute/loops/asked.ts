import type { Document } from '@calm-hand/core/document'
import { askedMotion, switchedOver } from '@calm-hand/core/simulation'
import type { ReferenceMotion } from '@calm-hand/core/simulation'
import { disturbedPlant, predict, responseFigures } from '@calm-hand/core/tuning'
import type { LoopDesign, Prediction, PredictionRequest, ResponseFigures } from '@calm-hand/core/tuning'

/** What the charts ask of a loop. */
export interface AskedFor {
  /** A step, or the cues of the trial of this name. */
  readonly trial: string | undefined
  /** Of a step, in the held quantity's unit. */
  readonly stepSize: number
  /** s */
  readonly stepAt: number
  /** In place of a step of the reference: of its push, of what it reads, or of another push of the machine. */
  readonly disturbance: { readonly name: string; readonly size: number } | undefined
}

/** The same with its motion, about where the machine rests. */
export interface Asked extends AskedFor {
  readonly motion: ReferenceMotion
  readonly beside: PredictionRequest['disturbance']
  /** Whether the feedback is on at a time, where the trial switches it. */
  readonly switched?: PredictionRequest['switched']
}

export function askedOf(document: Document, loop: string, asked: AskedFor): Asked {
  const { trial, stepSize, stepAt, disturbance } = asked
  const isOn = (t: number) => t >= stepAt - 1e-9
  if (trial !== undefined)
    return {
      ...asked,
      motion: askedMotion(document, trial, loop),
      beside: undefined,
      switched: switchedOver(document, trial, loop),
    }
  if (disturbance === undefined) return { ...asked, motion: (t) => [isOn(t) ? stepSize : 0, 0, 0], beside: undefined }
  const still = { ...asked, motion: (): [number, number, number] => [0, 0, 0] }
  const value = (t: number) => (isOn(t) ? disturbance.size : 0)
  if (disturbance.name === 'push' || disturbance.name === 'reading')
    return { ...still, beside: { through: disturbance.name, value } }
  const plant = disturbedPlant(document, loop, disturbance.name)
  return { ...still, beside: plant.kind === 'done' ? { through: 'plant', plant: plant.value, value } : undefined }
}

/** Which halves of a loop act; feedforward as designed where nothing is said. */
export interface Halves {
  readonly feedback: boolean
  readonly feedforward: boolean | undefined
}

/** The predicted answer, with feedback and feedforward as designed or as asked. The push is absolute. */
export function answerOf(
  design: LoopDesign,
  { motion, beside, switched }: Pick<Asked, 'motion' | 'beside' | 'switched'>,
  window: number,
  choice: Halves,
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
    // as designed it may also begin open; a comparison without feedback stays without
    switched: choice.feedforward === undefined || choice.feedback ? switched : undefined,
    until: window,
    disturbance: beside,
  })
  return { ...prediction, push: prediction.push.map((value) => value + design.nominalPush) }
}

/** Of a step the figures of its response; of the cues of a trial those from where the last reference began. */
export function stepFigures(answer: Prediction, { trial, stepSize, stepAt, motion }: Asked): ResponseFigures {
  const last = answer.t.at(-1) ?? 0
  return trial === undefined
    ? responseFigures(answer.t, answer.held, answer.push, stepAt, 0, stepSize)
    : responseFigures(answer.t, answer.held, answer.push, 0, motion(0)[0], motion(last)[0])
}

export interface Line {
  readonly xs: readonly number[]
  readonly ys: readonly number[]
}

/** The reference as points of a line. */
export function referenceLine({ trial, stepSize, stepAt, motion, disturbance }: Asked, window: number): Line {
  if (disturbance !== undefined) return { xs: [0, window], ys: [0, 0] }
  if (trial === undefined) return { xs: [0, stepAt, stepAt, window], ys: [0, 0, stepSize, stepSize] }
  const xs = Array.from({ length: drawnPoints + 1 }, (_, i) => (window * i) / drawnPoints)
  return { xs, ys: xs.map((t) => motion(t)[0]) }
}

const drawnPoints = 300
