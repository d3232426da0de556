import { complex, magnitude, overComplex } from '../algebra'
import { atan2 } from '../expression'
import {
  continuousPoles,
  frequencyGrid,
  margins,
  responseAt,
  transmissionZeros,
  withOutputs,
  withoutIntegrators,
} from '../linear'
import { halfRate, loopPaths, plantAt } from './loopModel'
import type { Gains, LoopModel } from './loopModel'
import { halfRule, skogestad, zieglerNichols } from './rules'
import type { IdealGains, SimpleProcess } from './rules'
import { noGains, outOfReach, senseAtRest } from './tune'
import type { OutOfReach, Tuned } from './tune'

/** Gains that let the closed loop follow within a time constant, s, by the rules for lags and delay (`skogestad`). */
export function tuneByTimeConstant(model: LoopModel, timeConstant: number): Tuned {
  const process = processOf(model, lateBySensing(model, 1 / timeConstant))
  if ('what' in process) return process
  const { law } = model
  if (process.integrators === 2 && !law.gains.includes('kd'))
    return outOfReach(
      'The machine integrates twice: without action on the rate no gain holds it.',
      'Choose a law with a rate, or hold the rate by an inner loop.',
    )
  return { kind: 'tuned', gains: inOwnGains(skogestad(process, timeConstant), law.gains) }
}

/** Gains from where a proportional loop would swing for ever (`zieglerNichols`): quick to get, lightly damped. */
export function tuneByUltimateGain(model: LoopModel): Tuned {
  const top = halfRate(model) * 0.999
  const sense = senseAtRest(model)
  // at the edge an estimator that knows the push swings too
  const paths = loopPaths(model, { ...noGains, kp: sense })
  const edge = margins((w) => paths(w)?.all, frequencyGrid(top / 1e4, top)).gain[0]
  if (edge === undefined || edge.w < (top / 1e4) * 1.01)
    return outOfReach(
      'A proportional loop about it never comes to an edge at which it swings for ever.',
      'Ask for a crossover and margin, or a time constant.',
    )
  return byTable(model, (law) => zieglerNichols(sense * edge.factor, (2 * Math.PI) / edge.w, law))
}

/** Gains by a table that has a line for each set of actions. */
export function byTable({ law: { gains } }: LoopModel, rule: (law: 'P' | 'PI' | 'PID') => IdealGains): Tuned {
  const found = rule(gains.includes('kd') ? 'PID' : gains.includes('ki') ? 'PI' : 'P')
  return { kind: 'tuned', gains: inOwnGains(found, gains) }
}

/** Gains of the ideal form in those of a law. */
export function inOwnGains({ gain, integralTime, rateTime }: IdealGains, own: LoopModel['law']['gains']): Gains {
  // without an integral its share of the gain goes too: the series form is left
  const kp = own.includes('ki') || integralTime === Infinity ? gain : gain / (1 + rateTime / (integralTime - rateTime))
  const kd = own.includes('ki') ? gain * rateTime : kp * (rateTime / (1 - rateTime / integralTime))
  return { kp, ki: own.includes('ki') ? gain / integralTime : 0, kd: own.includes('kd') ? kd : 0 }
}

/**
 * Lags that are alike come out of rounding as a ring of poles, the wider the more they are (a share of eps^(1/n), 0.01
 * for eight): what is damped to 0.999 is lags.
 */
const manyfold = 0.05

/** s: how late what is read comes at w rad/s, by its phase; what comes early counts as in time. */
function lateBySensing(model: LoopModel, w: number): number {
  const { truth } = model.shown
  const seen = truth === 0 || w >= halfRate(model) ? undefined : plantAt(model, w)?.g
  if (seen === undefined) return 0
  const { re, im } = overComplex(seen[0]!, seen[truth]!)
  return Math.max(0, -atan2(im, re) / w)
}

/** The plant by its lags, integrators and delay: hold, computation, `sensing` in s, and inverse response count as delay. */
function processOf({ plant, law, dt, delay }: LoopModel, sensing: number): SimpleProcess | OutOfReach {
  const channel = withOutputs(plant, [0])
  const { integrators, rest, scale } = withoutIntegrators(continuousPoles(plant) ?? [])
  if (integrators > 2 || rest.some(({ re }) => re > 0))
    return outOfReach(
      'It does not come to rest by itself: these rules are for lags, delay and up to two integrators.',
      'Ask for a crossover and margin.',
    )
  if (rest.some((pole) => Math.abs(pole.im) > manyfold * magnitude(pole)))
    return outOfReach(
      'It has a mode that swings, which these rules do not know.',
      'Ask for a crossover and margin, or damp the mode by an inner loop.',
    )
  const zeros = plant.dt === null ? (transmissionZeros(channel) ?? []) : []
  if (zeros.some(({ re }) => re < 0))
    return outOfReach('It has a zero that these rules do not know.', 'Ask for a crossover and margin.')
  const inverse = zeros.reduce((sum, { re }) => sum + 1 / re, 0)
  const held = (plant.dt === null ? 0.5 : 0) * dt + delay * dt
  const hasRate = law.gains.includes('kd')
  const kept = integrators === 0 ? (hasRate ? 2 : 1) : integrators === 1 && hasRate ? 1 : 0
  const reduced = halfRule(
    rest.map((pole) => 1 / magnitude(pole)),
    held + inverse + sensing,
    kept,
  )
  const slow = 1e-4 * Math.min(...rest.map(magnitude), scale)
  const near = responseAt(channel, plant.dt === null ? complex(slow) : complex(1 + slow * plant.dt))?.[0]?.[0]?.re ?? 0
  const [first = 0, second = 0] = reduced.kept
  return {
    gain: near * slow ** integrators,
    integrators: integrators as 0 | 1 | 2,
    lag: integrators === 0 ? first : 0,
    second: integrators === 0 ? second : first,
    delay: reduced.delay,
  }
}
