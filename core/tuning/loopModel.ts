import { Graph, cos, sin, sum } from '../expression'
import type { Scalar } from '../expression'
import { complex, timesComplex } from '../algebra'
import type { Complex } from '../algebra'
import type { GainsOf, LoopLaw, loop } from '../control'
import type { ValuesOf } from '../kinds'
import { linearize, responder, responseAt, sampledWithHold } from '../linear'
import type { FrequencyFunction, Responder, StateSpace } from '../linear'

export type LoopValues = ValuesOf<typeof loop>

export type Gains = GainsOf<number>

/** Where the outputs of a plant stand that a loop reads beside what it holds, which is the first. */
export interface ShownBy {
  readonly rate: number | undefined
  readonly signals: readonly number[]
  /** What a commanded loop holds. */
  readonly inner: number | undefined
  /** Where the signals rest, and how far each goes for a unit of what is held, once all is at rest again. */
  readonly rest: readonly number[]
  readonly follow: readonly number[]
}

/** One sampled loop about its operating point: all that its linear answers depend on. */
export interface LoopModel {
  readonly law: LoopLaw
  /** Continuous, or sampled at the loop's own rate; outputs are the held quantity and what else `shown` says. */
  readonly plant: StateSpace
  /** The same with its lags left out, for the phase account. */
  readonly machineOnly: StateSpace
  readonly sampled: StateSpace
  readonly shown: ShownBy
  /** s */
  readonly dt: number
  /** samples of computation delay */
  readonly delay: number
}

/** Models by plant: the same one again lets what is known of its frequency points be used again. */
const models = new WeakMap<StateSpace, Map<string, LoopModel>>()

/** `shown` may be left out where the second output, if there is one, is the rate and the law reads nothing else. */
export function loopModel(
  law: LoopLaw,
  plant: StateSpace,
  machineOnly: StateSpace,
  rate: number,
  delay: number,
  shown: ShownBy = { rate: plant.c.length > 1 ? 1 : undefined, signals: [], inner: undefined, rest: [], follow: [] },
): LoopModel {
  const key = `${law.key} ${rate} ${delay} ${JSON.stringify(shown)}`
  let mine = models.get(plant)
  if (mine === undefined) models.set(plant, (mine = new Map()))
  const known = mine.get(key)
  if (known?.machineOnly === machineOnly) return known
  const model = {
    law,
    plant,
    machineOnly,
    sampled: plant.dt === null ? sampledWithHold(plant, 1 / rate) : plant,
    shown,
    dt: 1 / rate,
    delay,
  }
  mine.set(key, model)
  return model
}

/**
 * The law as a sampled system from (error, rate, signals, reference) to its command: exact, from the graph of its step about
 * rest. What moves the reference moves the error too.
 */
export function lawSystem({ law, dt, shown }: Pick<LoopModel, 'law' | 'dt' | 'shown'>, gains: Gains): StateSpace {
  const graph = new Graph()
  const memory = law.memory.map((_, i) => graph.slot(i))
  const inputs = ['error', 'rate', ...law.signals, 'reference']
  const slots = inputs.map((_, i) => graph.slot(memory.length + i))
  const [error, rate, reference] = [slots[0]!, slots[1]!, slots.at(-1)!]
  const signals = slots.slice(2, -1)
  const step = law.step({ error, rate, signals, rest: shown.rest, follow: shown.follow, reference, dt, excess: 0 }, memory, gains)
  const command: Scalar = sum(Object.values(step.terms))
  const system = linearize({
    rates: step.memory,
    outputs: [command],
    stateSlots: memory.map((_, i) => i),
    inputSlots: inputs.map((_, i) => memory.length + i),
    at: [...law.start, ...inputs.map(() => 0)],
    names: { states: law.memory, inputs, outputs: ['command'] },
  })
  return { ...system, dt }
}

/** e^(j w dt) */
export function onUnitCircle(w: number, dt: number): Complex {
  return complex(cos(w * dt), sin(w * dt))
}

interface PlantPoint {
  /** What the plant shows over the push. */
  readonly g: readonly Complex[]
  /** e^(j w dt), and e^(-j w dt delay). */
  readonly z: Complex
  readonly late: Complex
}

/** The grid and some more; the points of a search differ with every gain and are not worth keeping. */
const mostPoints = 2000
interface KnownPlant {
  readonly respond: Responder
  readonly points: Map<number, PlantPoint | undefined>
}

const plants = new WeakMap<StateSpace, KnownPlant>()

/** The sampled plant at w, remembered per plant: gains change far more often than plants. */
export function plantAt({ sampled, dt, delay }: Pick<LoopModel, 'sampled' | 'dt' | 'delay'>, w: number): PlantPoint | undefined {
  let known = plants.get(sampled)
  if (known === undefined) plants.set(sampled, (known = { respond: responder(sampled), points: new Map() }))
  const { respond, points } = known
  if (points.has(w)) return points.get(w)
  const z = onUnitCircle(w, dt)
  const g = respond(z)?.map((row) => row[0]!)
  const point = g === undefined ? undefined : { g, z, late: onUnitCircle(-w * delay, dt) }
  if (points.size < mostPoints) points.set(w, point)
  return point
}

/**
 * The loop gain at its sampling instants with everything else at rest, negative unity feedback; rad/s up to half
 * the sample rate. Law, hold, delay and every lag of the plant are in it.
 */
export function loopGain(model: LoopModel, gains: Gains): FrequencyFunction {
  const law = lawSystem(model, gains)
  const constant = law.states.length === 0 ? responseAt(law, complex(1))?.[0] : undefined
  const { rate, signals } = model.shown
  // what stands between law and plant: the error turns its sign, the others come as they are
  const read = [rate, ...signals]
  return (w) => {
    const point = plantAt(model, w)
    const c = constant ?? (point === undefined ? undefined : responseAt(law, point.z)?.[0])
    if (point === undefined || c === undefined) return undefined
    const { g, late } = point
    let loop = timesComplex(c[0]!, g[0]!)
    read.forEach((output, i) => {
      if (output === undefined) return
      const by = timesComplex(c[i + 1]!, g[output]!)
      loop = complex(loop.re - by.re, loop.im - by.im)
    })
    return timesComplex(loop, late)
  }
}

/** rad/s: the highest frequency that a sampled loop can show. */
export function halfRate({ dt }: Pick<LoopModel, 'dt'>): number {
  return Math.PI / dt
}
