import type { Document } from '../document'
import { predictTrial } from './figures'

/** Of what holds the machine still, for a first look: far enough from where it would let go. */
const share = 0.2

/**
 * A step for a first look at a loop: `by`, or less where that, by the linear prediction of a trial that asks for it, would
 * take more than a fifth of what holds the machine still at the push; one of 1, 2 and 5 times a power of ten.
 */
export function gentleStep(document: Document, trial: string, loop: string, by: number): number {
  const prediction = predictTrial(document, trial, loop)
  const holding = Math.abs(prediction?.push[0] ?? 0)
  if (prediction === undefined || holding === 0) return by
  const most = Math.max(...prediction.push.map((value) => Math.abs(value - prediction.push[0]!)))
  const fitting = (by * share * holding) / most
  return fitting >= by ? by : roundedDown(fitting)
}

function roundedDown(value: number): number {
  const decade = Number(`1e${value.toExponential().split('e')[1]}`)
  const digit = [5, 2, 1].find((one) => one * decade <= value * (1 + 1e-9))!
  return Number((digit * decade).toPrecision(1))
}
