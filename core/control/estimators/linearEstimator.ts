import { identity, multiply, plusMatrix, times, transpose } from '../../algebra'
import type { Matrix } from '../../algebra'
import { rememberedOf } from '../../document'
import type { Document, Part } from '../../document'
import { exp } from '../../expression'
import { valuesOf } from '../../kinds'
import { names, observer } from '../../linear'
import type { StateSpace } from '../../linear'
import { findHeld } from '../../machine'
import { heightFilter, heightTransition } from './heightFilter'
import { lowPassEstimator } from './lowPassEstimator'
import { observerDesign, observerKind, observerSystem } from './observer'
import { tiltFilter } from './tiltFilter'

/** Before the name of a quantity: its time derivative, which nothing holds but an accelerometer feels. */
export const rateOfPrefix = 'rate of '

/** An estimator about rest, as the loops that read it see it. */
export interface LinearEstimator {
  /** Quantities that it reads; then, where it knows them, all pushes of its machine. */
  readonly reads: readonly string[]
  readonly knowsPushes: boolean
  readonly estimated: readonly string[]
  readonly system: StateSpace
}

/** By machine, which nobody changes in place. */
const known = new WeakMap<Part, Map<string, LinearEstimator | undefined>>()

/**
 * The estimators of a machine that have a linear form: observers, the height filter, the tilt filter and low-passes. That of the whole
 * pose has none here: it hardly lags behind what its gyroscope and accelerometer feel.
 */
export function linearEstimators(document: Document, machineName: string): readonly LinearEstimator[] {
  const machine = document.machines[machineName]!
  // a low-pass comes after all others, as in a run
  const isLast = ([, { kind }]: readonly [string, Part]) => (kind === lowPassEstimator.name ? 1 : 0)
  const inOrder = Object.entries(document.estimators).sort((one, other) => isLast(one) - isLast(other))
  return inOrder.flatMap(([name, part]) => {
    if (part.machine !== machineName) return []
    const key = `${name} ${JSON.stringify(part)}`
    const found = rememberedOf(known, machine, key, () => linearEstimator(machine, `estimators.${name}`, part))
    return found === undefined ? [] : [found]
  })
}

function linearEstimator(machine: Part, where: string, part: Part): LinearEstimator | undefined {
  const sensors = machine.sensors as Readonly<Record<string, Part>>
  if (part.kind === heightFilter.name) return heightFilterAtRest(part, sensors)
  if (part.kind === tiltFilter.name) return tiltFilterAtRest(part, sensors)
  if (part.kind === lowPassEstimator.name) return lowPassAtRest(part, findHeld(machine, part.signal as string)?.rate)
  if (part.kind !== observerKind.name) return undefined
  const design = observerDesign(where, machine, part)
  if (design.kind === 'refused') return undefined
  const { signals, estimated } = design.value
  const system = observerSystem(design.value, 1 / (part.rate as number))
  return { reads: signals, knowsPushes: true, estimated, system }
}

/**
 * The height filter once its gains have settled, its corrections spread evenly over the samples of the accelerometer. It
 * is moved by the acceleration, so that it leads by half a sample where the range finder has no say.
 */
function heightFilterAtRest(part: Part, sensors: Readonly<Record<string, Part>>): LinearEstimator | undefined {
  const { accelerationNoise, rangeNoise, range, inertial } = valuesOf(heightFilter, part)
  const rate = sensors[inertial]!.rate as number
  const every = Math.max(1, Math.round(rate / (sensors[range]!.rate as number)))
  const dt = 1 / rate
  const { f, g, q } = heightTransition(dt, accelerationNoise) as { readonly f: Matrix; readonly g: Matrix; readonly q: Matrix }
  // over all samples of the accelerometer between two of the range finder
  let [moved, strayed] = [identity(2), times(identity(2), 0)]
  for (let i = 0; i < every; i++) {
    moved = multiply(f, moved)
    strayed = plusMatrix(multiply(multiply(f, strayed), transpose(f)), q)
  }
  const found = observer({ a: moved, c: [[1, 0]], dt: every * dt }, { qn: strayed, rn: [[rangeNoise ** 2]] })
  if (found.kind === 'refused') return undefined
  const spread = times(found.value.update!, 1 / every)
  const kept = plusMatrix(identity(2), times(multiply(spread, [[1, 0]]), -1))
  const a = multiply(kept, f)
  const driven = multiply(kept, g)
  const b = spread.map((row, i) => [row[0]!, driven[i]![0]!])
  return {
    reads: ['height', `${rateOfPrefix}climbRate`],
    knowsPushes: false,
    estimated: ['height', 'climbRate'],
    system: { a, b, c: a, d: b, dt, ...names(2, 2, 2) },
  }
}

/**
 * The tilt filter about hover. An accelerometer feels no gravity there, only what the rotors give, which stays along the
 * body: so it draws the estimate towards level.
 */
function tiltFilterAtRest(part: Part, sensors: Readonly<Record<string, Part>>): LinearEstimator {
  const { timeConstant, inertial } = valuesOf(tiltFilter, part)
  const dt = 1 / (sensors[inertial]!.rate as number)
  const kept = timeConstant / (timeConstant + dt)
  const a = times(identity(2), kept)
  const b = times(identity(2), kept * dt)
  return {
    reads: ['rollRate', 'pitchRate'],
    knowsPushes: false,
    estimated: ['roll', 'pitch'],
    system: { a, b, c: a, d: b, dt, ...names(2, 2, 2) },
  }
}

/** The lag of a low-pass, and how fast its estimate moves as that of the rate. */
function lowPassAtRest(part: Part, rateName: string | undefined): LinearEstimator {
  const { signal, corner, rate } = valuesOf(lowPassEstimator, part)
  const dt = 1 / rate
  const kept = exp(-corner * dt) as number
  const slope = (1 - kept) / dt
  const estimated = [signal, ...(rateName === undefined ? [] : [rateName])]
  return {
    reads: [signal],
    knowsPushes: false,
    estimated,
    system: {
      a: [[kept]],
      b: [[1 - kept]],
      c: [[kept], [-slope]].slice(0, estimated.length),
      d: [[1 - kept], [slope]].slice(0, estimated.length),
      dt,
      ...names(1, 1, estimated.length),
    },
  }
}
