import { Graph, cos, sin, sum } from '../expression'
import type { Scalar } from '../expression'
import { complex, overComplex, timesComplex } from '../algebra'
import type { Complex } from '../algebra'
import type { GainsOf, LoopLaw } from '../control'
import { linearize, lookedAtBefore, responder, responseAt, sampledWithHold } from '../linear'
import type { FrequencyFunction, Responder, StateSpace } from '../linear'

export type Gains = GainsOf<number>

/** Where the outputs of a plant stand that a loop reads beside what it holds, which is the first. */
export interface ShownBy {
  /** What is held as it truly is; the first itself where nothing stands between. */
  readonly truth: number
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
  /** The same with its lags left out, for the phase account and inverses of the plant: worked out when it is wanted. */
  readonly machineOnly: () => StateSpace
  readonly sampled: StateSpace
  /** What the law reads over the push, sampled: behind the sensors and estimators that stand between. */
  readonly read: StateSpace
  /** The share of it that comes by estimators that know the push, not by the machine; nothing where none does. */
  readonly known: StateSpace | undefined
  readonly shown: ShownBy
  /** s */
  readonly dt: number
  /** samples of computation delay */
  readonly delay: number
}

/** Models by plant: the same one again lets what is known of its frequency points be used again. */
const models = new WeakMap<StateSpace, Map<string, LoopModel>>()

/** What a law reads, sampled: `known` see `LoopModel`. */
export interface LawReading {
  readonly read: StateSpace
  readonly known: StateSpace | undefined
}

/**
 * `shown` may be left out where the second output, if there is one, is the rate and the law reads nothing else; `reading` where
 * it reads what there truly is, before the push of the same sample.
 */
export function loopModel(
  law: LoopLaw,
  plant: StateSpace,
  withoutLags: StateSpace | (() => StateSpace),
  rate: number,
  delay: number,
  shown: ShownBy = { truth: 0, rate: plant.c.length > 1 ? 1 : undefined, signals: [], inner: undefined, rest: [], follow: [] },
  reading?: LawReading,
): LoopModel {
  const key = `${law.key} ${rate} ${delay} ${JSON.stringify(shown)}`
  let mine = models.get(plant)
  if (mine === undefined) models.set(plant, (mine = new Map()))
  const found = mine.get(key)
  const isSame = typeof withoutLags === 'function' || found?.machineOnly() === withoutLags
  if (found !== undefined && isSame && (reading === undefined || found.read === reading.read)) return found
  const sampled = plant.dt === null ? sampledWithHold(plant, 1 / rate) : plant
  const { read, known } = reading ?? { read: lookedAtBefore(sampled), known: undefined }
  const machineOnly = typeof withoutLags === 'function' ? withoutLags : () => withoutLags
  const model = { law, plant, machineOnly, sampled, read, known, shown, dt: 1 / rate, delay }
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

/** What is read of the sampled plant at w, remembered per plant: gains change far more often than plants. */
export function plantAt({ read, dt, delay }: Pick<LoopModel, 'read' | 'dt' | 'delay'>, w: number): PlantPoint | undefined {
  let kept = plants.get(read)
  if (kept === undefined) plants.set(read, (kept = { respond: responder(read), points: new Map() }))
  const { respond, points } = kept
  if (points.has(w)) return points.get(w)
  const z = onUnitCircle(w, dt)
  const g = respond(z)?.map((row) => row[0]!)
  const point = g === undefined ? undefined : { g, z, late: onUnitCircle(-w * delay, dt) }
  if (points.size < mostPoints) points.set(w, point)
  return point
}

/** What a law asks for over what was asked, both linear in its gains. */
export interface LoopPaths {
  /** Through machine, sensors and estimators. */
  readonly all: Complex
  /** The part of it that comes by estimators knowing the push; nothing where none does. */
  readonly known: Complex | undefined
}

/**
 * The loop gain at its sampling instants with everything else at rest, negative unity feedback; rad/s up to half
 * the sample rate. Law, hold, delay, every lag of the plant, sensors and estimators are in it. It is opened where the push
 * reaches the machine: an estimator that knows the push goes on knowing what the law asked for.
 */
export function loopGain(model: LoopModel, gains: Gains): FrequencyFunction {
  const paths = loopPaths(model, gains)
  return (w) => {
    const found = paths(w)
    if (found === undefined) return undefined
    const { all, known } = found
    if (known === undefined) return all
    return overComplex(complex(all.re - known.re, all.im - known.im), complex(1 + known.re, known.im))
  }
}

/** The paths around a loop, negative unity feedback. */
export function loopPaths(model: LoopModel, gains: Gains): (w: number) => LoopPaths | undefined {
  const law = lawSystem(model, gains)
  const constant = law.states.length === 0 ? responseAt(law, complex(1))?.[0] : undefined
  const { rate, signals } = model.shown
  // what stands between law and plant: the error turns its sign, the others come as they are
  const others = [rate, ...signals]
  const around = (c: readonly Complex[], { g, late }: PlantPoint): Complex => {
    let loop = timesComplex(c[0]!, g[0]!)
    others.forEach((output, i) => {
      if (output === undefined) return
      const by = timesComplex(c[i + 1]!, g[output]!)
      loop = complex(loop.re - by.re, loop.im - by.im)
    })
    return timesComplex(loop, late)
  }
  return (w) => {
    const point = plantAt(model, w)
    const c = constant ?? (point === undefined ? undefined : responseAt(law, point.z)?.[0])
    if (point === undefined || c === undefined) return undefined
    const beside = model.known === undefined ? undefined : plantAt({ ...model, read: model.known }, w)
    if (model.known !== undefined && beside === undefined) return undefined
    return { all: around(c, point), known: beside === undefined ? undefined : around(c, beside) }
  }
}

/** rad/s: the highest frequency that a sampled loop can show. */
export function halfRate({ dt }: Pick<LoopModel, 'dt'>): number {
  return Math.PI / dt
}
