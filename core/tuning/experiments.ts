import { lawOf } from '../control'
import { continuousPoles, withoutIntegrators } from '../linear'
import { byTable, inOwnGains } from './methods'
import type { LoopModel } from './loopModel'
import { predict } from './predict'
import type { Prediction } from './predict'
import { cohenCoon, reactionTable, skogestad, tyreusLuyben, zieglerNichols } from './rules'
import type { ReactionCurve } from './rules'
import { noGains, outOfReach, senseAtRest } from './tune'
import type { OutOfReach, Tuned } from './tune'

/** How a loop swings with a relay in place of its law. */
export interface Swing {
  readonly kind: 'swing'
  /** Half of the whole travel, in the unit of what is held. */
  readonly amplitude: number
  /** s */
  readonly period: number
  /** Gain, with its sign, at which a proportional loop would swing for ever. */
  readonly ultimateGain: number
}

/** A relay in place of a law, in the units of push and reading. */
interface Relay {
  readonly amplitude: number
  readonly hysteresis: number
}

const mostSamples = 40_000
/** Periods that are compared, and how well they agree in a steady swing. */
const steady = 0.01
const leastHalves = 12
/** A swing of fewer samples is one of the sampling, not of the machine. */
const leastSamples = 8

/** Lets a relay swing the linear loop, samples and delay included, until its periods agree. Åström & Hägglund, Automatica 20 (1984). */
export function relaySwing(model: LoopModel, { amplitude, hysteresis }: Relay): Swing | OutOfReach {
  const sense = senseAtRest(model)
  const law = lawOf({ law: { kind: 'relay', amplitude: sense * amplitude, hysteresis: sense * hysteresis } })
  const read = asRead(model)
  let samples = 500
  for (; samples <= mostSamples; samples *= 4) {
    const answer = predict({ ...read, law, shown: { ...read.shown, signals: [] } }, still(model, samples))
    const found = swingOf(answer, amplitude)
    if (found !== undefined && found.period < leastSamples * model.dt)
      return outOfReach(
        'With a relay it swings from sample to sample: that is the sampling, not the machine.',
        'Sample the loop faster, or ask for a crossover and margin.',
      )
    if (found !== undefined) return { ...found, ultimateGain: sense * found.ultimateGain }
  }
  return outOfReach(
    'With a relay it does not come to a steady swing.',
    'Raise the amplitude above what holds it at rest, lower the hysteresis, or ask for a crossover and margin.',
  )
}

/** What a prediction shows as held is then what is read of it: an experiment knows nothing else. */
function asRead(model: LoopModel): LoopModel {
  return { ...model, shown: { ...model.shown, truth: 0 } }
}

function still({ dt }: LoopModel, samples: number): Parameters<typeof predict>[1] {
  return { gains: noGains, reference: () => [0, 0, 0], imbalance: 0, closed: true, until: samples * dt }
}

function swingOf({ t, held, terms }: Prediction, relay: number): Swing | undefined {
  const side = terms.relay!
  const turns: number[] = []
  for (let k = 1; k < side.length; k++) if (side[k] !== side[k - 1]) turns.push(k)
  if (turns.length < leastHalves) return undefined
  const [last, before, first] = [turns.at(-1)!, turns.at(-3)!, turns.at(-5)!]
  // whole periods of several swings even out the grid of samples
  const eight = turns.at(-9)!
  const period = (t[last]! - t[eight]!) / 4
  if (Math.abs(t[last]! - 2 * t[before]! + t[first]!) > Math.max(steady * period, 1.5 * t[1]!)) return undefined
  const swung = held.subarray(eight, last)
  const sizes = [held.subarray(before, last), held.subarray(first, before)].map(travel) as [number, number]
  if (!(Math.abs(sizes[0] - sizes[1]) <= steady * sizes[0])) return undefined
  const amplitude = travel(swung) / 2
  return amplitude > 0 ? { kind: 'swing', amplitude, period, ultimateGain: (4 * relay) / (Math.PI * amplitude) } : undefined
}

function travel(values: Float64Array): number {
  return (
    values.reduce((most, value) => Math.max(most, value), -Infinity) -
    values.reduce((least, value) => Math.min(least, value), Infinity)
  )
}

/** Gains by a relay experiment. */
export function tuneByRelay(
  model: LoopModel,
  { table, ...relay }: Relay & { readonly table: 'zieglerNichols' | 'tyreusLuyben' },
): Tuned {
  const swing = relaySwing(model, relay)
  if (swing.kind === 'outOfReach') return swing
  const rule = table === 'tyreusLuyben' ? tyreusLuyben : zieglerNichols
  return byTable(model, (law) => rule(swing.ultimateGain, swing.period, law))
}

/** What a step of the open push shows. */
export type Reaction = ({ readonly kind: 'reaction' } & ReactionCurve) | OutOfReach

/** Times of the slowest pole that a step is looked at for. */
const slowPoles = 8
const mostIntegrating = 12

/** The answer of the open loop to a step of its push, as a lag or an integrator with delay. */
export function stepReaction(model: LoopModel, size: number): Reaction {
  const { integrators, rest } = withoutIntegrators(continuousPoles(model.plant) ?? [])
  if (integrators > 1 || rest.some(({ re }) => re >= 0))
    return outOfReach(
      integrators > 1
        ? 'It integrates twice: an open step runs away ever faster, and these tables do not know that.'
        : 'The open loop is unstable or swings on: a step of its push never comes to rest.',
      'Ask for a crossover and margin.',
    )
  const slowest = Math.min(...rest.map(({ re }) => -re), Infinity)
  const pace = slowest === Infinity ? 1 / (20 * model.dt) : slowest
  const samples = Math.min(
    mostSamples,
    Math.ceil(((integrators === 0 ? slowPoles : mostIntegrating) / pace + 20 * model.dt) / model.dt),
  )
  const { t, held } = predict(asRead(model), { ...still(model, samples), imbalance: size, closed: false })
  const seen = integrators === 0 ? lagOf(t, held, size) : integratorOf(t, held, size)
  // the command comes late, and is held for a sample, once the loop is closed
  return seen.kind === 'outOfReach' ? seen : { ...seen, delay: seen.delay + (model.delay + 0.5) * model.dt }
}

const nothingSeen = (): OutOfReach => outOfReach('The step does not move what is held.', 'Choose a push that does.')

function lagOf(t: Float64Array, held: Float64Array, size: number): Reaction {
  const end = held.at(-1)!
  if (end === 0) return nothingSeen()
  const [early, late] = [0.283, 0.632].map((share) => timeOf(t, held, share * end)) as [number, number]
  const lag = 1.5 * (late - early)
  if (held.some((value) => value / end < -0.02 || value / end > 1.1))
    return outOfReach('The step swings or starts the wrong way: it is no lag with delay.', 'Ask for a crossover and margin.')
  return { kind: 'reaction', gain: end / size, lag, delay: Math.max(late - lag, 0) }
}

function integratorOf(t: Float64Array, held: Float64Array, size: number): Reaction {
  const [last, before] = [t.length - 1, Math.floor(0.8 * t.length)]
  const slope = (held[last]! - held[before]!) / (t[last]! - t[before]!)
  if (slope === 0) return nothingSeen()
  return { kind: 'reaction', gain: slope / size, lag: Infinity, delay: Math.max(t[last]! - held[last]! / slope, 0) }
}

/** When it first passes a value, between samples. */
function timeOf(t: Float64Array, held: Float64Array, value: number): number {
  const k = held.findIndex((one) => Math.abs(one) >= Math.abs(value))
  if (k <= 0) return t[Math.max(k, 0)]!
  return t[k - 1]! + ((value - held[k - 1]!) / (held[k]! - held[k - 1]!)) * (t[k]! - t[k - 1]!)
}

interface Step {
  /** In the unit of the push. */
  readonly size: number
  readonly table: 'zieglerNichols' | 'cohenCoon' | 'skogestad'
}

/** Gains by a step experiment. */
export function tuneByStep(model: LoopModel, { size, table }: Step): Tuned {
  const reaction = stepReaction(model, size)
  if (reaction.kind === 'outOfReach') return reaction
  const { gain, lag, delay } = reaction
  if (table === 'skogestad') {
    const integrators = lag === Infinity ? 1 : 0
    const process = { gain, integrators, lag: integrators === 0 ? lag : 0, second: 0, delay } as const
    return { kind: 'tuned', gains: inOwnGains(skogestad(process, delay), model.law.gains) }
  }
  if (table === 'cohenCoon' && lag === Infinity)
    return outOfReach(
      'The table of Cohen and Coon is for machines that come to rest by themselves; this one integrates.',
      'Take another table.',
    )
  return byTable(model, (law) => (table === 'cohenCoon' ? cohenCoon : reactionTable)(reaction, law))
}
