import { continuousPole } from '../linear'
import type { LoopAnalysis } from './analysis'
import type { LoopModel } from './loopModel'

/** Time constants of a slow pole after which it is seen no more. */
const slowPolesSeen = 5
/** A pole this much slower than the crossover is left to run on: nobody waits for it. */
const farSlower = 0.02

/** s: long enough for what the loop does at its crossover, given in times of that, and for its slow poles. */
export function answerWindow(model: LoopModel, analysis: LoopAnalysis, crossover: number, times: number): number {
  const quick = times / crossover
  if (!analysis.stable) return quick
  const paces = analysis.closedPoles.map((pole) => -continuousPole(pole, model.dt).re)
  const slowest = Math.min(...paces.filter((pace) => pace > farSlower * crossover), crossover)
  return Math.max(quick, slowPolesSeen / slowest)
}
