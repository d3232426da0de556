import { Graph, cos, sin, sum } from '../expression'
import type { Scalar } from '../expression'
import { complex, timesComplex } from '../algebra'
import type { Complex } from '../algebra'
import type { GainName, Law } from '../control'
import { linearize, responseAt, sampledWithHold } from '../linear'
import type { FrequencyFunction, StateSpace } from '../linear'

export type Gains = Readonly<Record<GainName, number>>

/** One sampled loop about its operating point: all that its linear answers depend on. */
export interface LoopModel {
  readonly law: Law
  /** Continuous; outputs are the held quantity and its rate. */
  readonly plant: StateSpace
  /** The same with its lags left out, for the phase account. */
  readonly machineOnly: StateSpace
  readonly sampled: StateSpace
  /** s */
  readonly dt: number
  /** samples of computation delay */
  readonly delay: number
}

export function loopModel(law: Law, plant: StateSpace, machineOnly: StateSpace, rate: number, delay: number): LoopModel {
  return { law, plant, machineOnly, sampled: sampledWithHold(plant, 1 / rate), dt: 1 / rate, delay }
}

/** The law as a sampled system from (error, rate) to its command: exact, from the graph of its step. */
export function lawSystem(law: Law, gains: Gains, dt: number): StateSpace {
  const graph = new Graph()
  const memory = law.memory.map((_, i) => graph.slot(i))
  const [error, rate] = [graph.slot(memory.length), graph.slot(memory.length + 1)]
  const step = law.step({ error: error!, rate: rate!, dt }, memory, gains)
  const command: Scalar = sum(Object.values(step.terms))
  const system = linearize({
    rates: step.memory,
    outputs: [command],
    stateSlots: memory.map((_, i) => i),
    inputSlots: [memory.length, memory.length + 1],
    at: new Array<number>(memory.length + 2).fill(0), // every law is linear
    names: { states: law.memory, inputs: ['error', 'rate'], outputs: ['command'] },
  })
  return { ...system, dt }
}

/** e^(j w dt) */
export function onUnitCircle(w: number, dt: number): Complex {
  return complex(cos(w * dt), sin(w * dt))
}

const responses = new WeakMap<StateSpace, Map<number, readonly Complex[] | undefined>>()

/** Held quantity and rate over the push at w, remembered per plant: gains change far more often than plants. */
export function plantResponse({ sampled, dt }: Pick<LoopModel, 'sampled' | 'dt'>, w: number): readonly Complex[] | undefined {
  let known = responses.get(sampled)
  if (known === undefined) responses.set(sampled, (known = new Map()))
  if (known.has(w)) return known.get(w)
  const response = responseAt(sampled, onUnitCircle(w, dt))?.map((row) => row[0]!)
  known.set(w, response)
  return response
}

/**
 * The loop gain at its sampling instants with everything else at rest, negative unity feedback; rad/s up to half
 * the sample rate. Law, hold, delay and every lag of the plant are in it.
 */
export function loopGain(model: LoopModel, gains: Gains): FrequencyFunction {
  const law = lawSystem(model.law, gains, model.dt)
  const constant = law.states.length === 0 ? responseAt(law, complex(1))?.[0] : undefined
  return (w) => {
    const g = plantResponse(model, w)
    const c = constant ?? responseAt(law, onUnitCircle(w, model.dt))?.[0]
    if (g === undefined || c === undefined) return undefined
    const byError = timesComplex(c[0]!, g[0]!)
    const byRate = timesComplex(c[1]!, g[1] ?? complex(0))
    const loop = complex(byError.re - byRate.re, byError.im - byRate.im)
    return timesComplex(loop, onUnitCircle(-w * model.delay, model.dt))
  }
}

/** rad/s: the highest frequency that a sampled loop can show. */
export function halfRate({ dt }: Pick<LoopModel, 'dt'>): number {
  return Math.PI / dt
}
