import { Graph, cos, sin, sum } from '../expression'
import type { Scalar } from '../expression'
import { complex, timesComplex } from '../algebra'
import type { Complex } from '../algebra'
import type { GainName, LoopLaw, loop } from '../control'
import type { ValuesOf } from '../kinds'
import { linearize, responseAt, sampledWithHold } from '../linear'
import type { FrequencyFunction, StateSpace } from '../linear'

export type LoopValues = ValuesOf<typeof loop>

export type Gains = Readonly<Record<GainName, number>>

/** One sampled loop about its operating point: all that its linear answers depend on. */
export interface LoopModel {
  readonly law: LoopLaw
  /** Continuous, or sampled at the loop's own rate; outputs are the held quantity and its rate. */
  readonly plant: StateSpace
  /** The same with its lags left out, for the phase account. */
  readonly machineOnly: StateSpace
  readonly sampled: StateSpace
  /** s */
  readonly dt: number
  /** samples of computation delay */
  readonly delay: number
}

/** Models by plant: the same one again lets what is known of its frequency points be used again. */
const models = new WeakMap<StateSpace, Map<string, LoopModel>>()

export function loopModel(law: LoopLaw, plant: StateSpace, machineOnly: StateSpace, rate: number, delay: number): LoopModel {
  const key = `${law.key} ${rate} ${delay}`
  let mine = models.get(plant)
  if (mine === undefined) models.set(plant, (mine = new Map()))
  const known = mine.get(key)
  if (known?.machineOnly === machineOnly) return known
  const model = {
    law,
    plant,
    machineOnly,
    sampled: plant.dt === null ? sampledWithHold(plant, 1 / rate) : plant,
    dt: 1 / rate,
    delay,
  }
  mine.set(key, model)
  return model
}

/** The law as a sampled system from (error, rate) to its command: exact, from the graph of its step. */
export function lawSystem(law: LoopLaw, gains: Gains, dt: number): StateSpace {
  const graph = new Graph()
  const memory = law.memory.map((_, i) => graph.slot(i))
  const [error, rate] = [graph.slot(memory.length), graph.slot(memory.length + 1)]
  const step = law.step({ error: error!, rate: rate!, reference: 0, dt, excess: 0 }, memory, gains)
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

interface PlantPoint {
  /** Held quantity and its rate over the push. */
  readonly g: readonly Complex[]
  /** e^(j w dt), and e^(-j w dt delay). */
  readonly z: Complex
  readonly late: Complex
}

/** The grid and some more; the points of a search differ with every gain and are not worth keeping. */
const mostPoints = 2000
const points = new WeakMap<StateSpace, Map<number, PlantPoint | undefined>>()

/** The sampled plant at w, remembered per plant: gains change far more often than plants. */
export function plantAt({ sampled, dt, delay }: Pick<LoopModel, 'sampled' | 'dt' | 'delay'>, w: number): PlantPoint | undefined {
  let known = points.get(sampled)
  if (known === undefined) points.set(sampled, (known = new Map()))
  if (known.has(w)) return known.get(w)
  const z = onUnitCircle(w, dt)
  const g = responseAt(sampled, z)?.map((row) => row[0]!)
  const point = g === undefined ? undefined : { g, z, late: onUnitCircle(-w * delay, dt) }
  if (known.size < mostPoints) known.set(w, point)
  return point
}

/**
 * The loop gain at its sampling instants with everything else at rest, negative unity feedback; rad/s up to half
 * the sample rate. Law, hold, delay and every lag of the plant are in it.
 */
export function loopGain(model: LoopModel, gains: Gains): FrequencyFunction {
  const law = lawSystem(model.law, gains, model.dt)
  const constant = law.states.length === 0 ? responseAt(law, complex(1))?.[0] : undefined
  return (w) => {
    const point = plantAt(model, w)
    const c = constant ?? (point === undefined ? undefined : responseAt(law, point.z)?.[0])
    if (point === undefined || c === undefined) return undefined
    const { g, late } = point
    const byError = timesComplex(c[0]!, g[0]!)
    const byRate = timesComplex(c[1]!, g[1] ?? complex(0))
    const loop = complex(byError.re - byRate.re, byError.im - byRate.im)
    return timesComplex(loop, late)
  }
}

/** rad/s: the highest frequency that a sampled loop can show. */
export function halfRate({ dt }: Pick<LoopModel, 'dt'>): number {
  return Math.PI / dt
}
