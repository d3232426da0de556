import type { LoopLaw } from '../../control'
import { edgeOfSwinging } from './edgeOfSwinging'
import { followWithin } from './followWithin'
import { poleLocations } from './poleLocations'
import { relayExperiment } from './relayExperiment'
import { requirement } from './requirement'
import { stepExperiment } from './stepExperiment'
import type { Tuning } from './tuning'
import { typedGains } from './typedGains'
import { weights } from './weights'

export { usualIntegralCorner } from './requirement'
export type { Tuning, TuningStart } from './tuning'
export { edgeOfSwinging, followWithin, poleLocations, relayExperiment, requirement, stepExperiment, typedGains, weights }

/** In the order people see. */
export const tunings: readonly Tuning[] = [
  ...[requirement, followWithin, edgeOfSwinging, relayExperiment, stepExperiment],
  ...[weights, poleLocations, typedGains],
]

/** Whether a tuning gives the gains of a law; a law without any has none. */
export function suitsLaw({ suits }: Pick<Tuning, 'suits'>, law: Pick<LoopLaw, 'gains' | 'signals'>): boolean {
  if (law.gains.length === 0) return false
  const feedsSignals = law.gains.some((gain) => law.signals.includes(gain))
  return suits === 'both' || suits === (feedsSignals ? 'signalGains' : 'errorGains')
}
