import { add, and, less, mul, neg, select, square, sub } from '../../expression'
import type { Flag, Scalar } from '../../expression'
import { dot, identity, multiply, plusMatrix, times, transpose, upInBody } from '../../algebra'
import type { Matrix, Vector } from '../../algebra'
import type { Part } from '../../document'
import { name, number, valuesOf } from '../../kinds'
import { names, observer } from '../../linear'
import { readVector } from '../../machine'
import type { Read } from '../../machine'
import { predicted, updated } from '../kalman'
import type { LinearEstimator } from './estimator'
import { defineEstimator, rateOfPrefix } from './estimator'
import { readingSensors } from './fresh'
import { inertialOf, rateOfSensor, sinceLast } from './inertial'
import { apartProblems, armOf, groundBelow, placeOf, unseenProblems } from './ofBody'

const values = ['height', 'climbRate'] as const

/**
 * Kalman filter of height and climb rate. Each inertial sample moves the estimate by the measured vertical
 * acceleration; each range sample inside the sounder's range corrects it. The covariance is carried along, so the
 * gains suit any mix of rates and missing readings.
 */
export const heightFilter = defineEstimator({
  name: 'heightFilter',
  label: 'height filter',
  says: 'estimates height and climb rate from {range} and {inertial}',
  about:
    'Two states, driven by the accelerometer and corrected by the range finder; covariance propagated at every sample. Anderson & Moore, Optimal Filtering, 1979 (from memory).',
  needs: { range: ['distanceSensor'], inertial: ['inertialUnit'] },
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    range: name({ label: 'range finder', of: 'text' }),
    inertial: name({ label: 'inertial sensor', of: 'text' }),
    accelerationNoise: number({ label: 'acceleration noise assumed', unit: 'm/s²', above: 0 }),
    rangeNoise: number({ label: 'range noise assumed', unit: 'm', above: 0 }),
    startHeight: number({ label: 'uncertainty of height at the start', unit: 'm', above: 0 }),
    startRate: number({ label: 'uncertainty of climb rate at the start', unit: 'm/s', above: 0 }),
  },
  fresh: ({ machine: name }, machine): Part | undefined => readingSensors(heightFilter, name, machine),
  reads: () => [],
  estimates: (machine, part) => values.map(placeOf(machine, part.inertial)).filter((one) => one !== undefined),
  rate: (machine, part) => rateOfSensor(machine, part.inertial),
  problems: (where, machine, { inertial, range }) => [
    ...unseenProblems(`${where}.inertial`, machine, inertial, ['place']),
    ...apartProblems(`${where}.range`, machine, inertial, range),
  ],
  run: (context) => {
    const { machine, part, known, number: own, sensor, rest, restsAt } = context
    const quantities = values.map((value) => placeOf(machine, part.inertial)(value)!)
    const { read: seen, fresh } = sensor('range')
    return {
      start: [...quantities.map(rest), square(own('startHeight')), 0, square(own('startRate'))],
      step: (memory) => ({
        memory: heightFilterStep(memory, {
          roll: sensor('inertial').read('roll'),
          pitch: sensor('inertial').read('pitch'),
          specificForce: inertialOf(context).specificForce,
          gravity: known('gravity'),
          fresh: [fresh, ...insideRange(seen(''), ...endsOf(known, part.range))].reduce(and),
          range: seen(''),
          axis: readVector(known, `sensors.${part.range}.axis`),
          arm: armOf(machine, known, part.inertial, part.range),
          ground: groundBelow(machine, known, part.inertial, restsAt),
          accelerationNoise: own('accelerationNoise'),
          rangeNoise: own('rangeNoise'),
          dt: sinceLast(context),
        }),
        kept: [],
      }),
      tells: (memory) => ({ estimates: new Map(quantities.map((quantity, i) => [quantity, memory[i]!])), watched: [] }),
    }
  },
  atRest: heightFilterAtRest,
})

export interface HeightFilterInputs {
  readonly roll: Scalar
  readonly pitch: Scalar
  readonly specificForce: Vector
  readonly gravity: Scalar
  /** A new reading has come that lies inside the range. */
  readonly fresh: Flag
  readonly range: Scalar
  /** Where the range finder looks in body axes, where it sits from the point whose height it is, and the level of the ground */
  readonly axis: Vector
  readonly arm: Vector
  readonly ground: Scalar
  readonly accelerationNoise: Scalar
  readonly rangeNoise: Scalar
  readonly dt: Scalar
}

/** One sample of height, climb rate, and the covariance's three entries: moved by the acceleration since the last, then corrected if there is a fresh reading. */
export function heightFilterStep(memory: readonly Scalar[], inputs: HeightFilterInputs): Scalar[] {
  const [height, rate, hh, hv, vv] = memory as [Scalar, Scalar, Scalar, Scalar, Scalar]
  const { dt } = inputs
  const up_inBody = upInBody(inputs.roll, inputs.pitch)
  const acceleration = sub(dot(up_inBody, inputs.specificForce), inputs.gravity)
  const { f, g, q } = heightTransition(dt, inputs.accelerationNoise)
  const moved = predicted(
    {
      x: [[height], [rate]],
      p: [
        [hh, hv],
        [hv, vv],
      ],
    },
    f,
    q,
    g.map(([share]) => [mul(share!, acceleration)]),
  )
  // range along its beam, turned upright, less the way from the point to the sensor
  const over = mul(inputs.range, neg(dot(up_inBody, inputs.axis)))
  const measured = add(sub(over, dot(up_inBody, inputs.arm)), inputs.ground)
  const corrected = updated(moved, [[1, 0]], [[square(inputs.rangeNoise)]], [[measured]])
  const flat = ({ x, p }: typeof moved): Scalar[] => [x[0]![0]!, x[1]![0]!, p[0]![0]!, p[0]![1]!, p[1]![1]!]
  const [before, after] = [flat(moved), flat(corrected)]
  return before.map((value, i) => select(inputs.fresh, after[i]!, value))
}

/** How height and climb rate move in a time dt: by themselves, for an acceleration, and by how much its noise lets them stray. */
export function heightTransition(dt: Scalar, accelerationNoise: Scalar) {
  const g = [[mul(0.5, square(dt))], [dt]]
  const variance = square(accelerationNoise)
  return {
    f: [
      [1, dt],
      [0, 1],
    ],
    g,
    q: g.map(([a]) => g.map(([b]) => mul(variance, mul(a!, b!)))),
  }
}

/** Readings at the ends of the range say only that the truth lies beyond. */
export function insideRange(range: Scalar, least: Scalar, most: Scalar): Flag[] {
  return [less(least, range), less(range, most)]
}

/** Where a range finder stops telling, m. */
function endsOf(known: Read, range: unknown): readonly [Scalar, Scalar] {
  const end = (slot: string) => known(`sensors.${range as string}.${slot}`)
  return [end('nearest'), end('farthest')]
}

/**
 * The height filter once its gains have settled, its corrections spread evenly over the samples of the accelerometer. It
 * is moved by the acceleration, so that it leads by half a sample where the range finder has no say.
 */
function heightFilterAtRest(machine: Part, _where: string, part: Part): LinearEstimator | undefined {
  const { accelerationNoise, rangeNoise, range, inertial } = valuesOf(heightFilter, part)
  const [height, climbRate] = values.map((value) => placeOf(machine, inertial)(value)!) as [string, string]
  const rate = rateOfSensor(machine, inertial)
  const every = Math.max(1, Math.round(rate / rateOfSensor(machine, range)))
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
    reads: [height, `${rateOfPrefix}${climbRate}`],
    by: [range, inertial],
    knowsPushes: false,
    estimated: [height, climbRate],
    system: { a, b, c: a, d: b, dt, ...names(2, 2, 2) },
  }
}
