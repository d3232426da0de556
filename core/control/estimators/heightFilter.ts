import { add, less, mul, select, square, sub } from '../../expression'
import type { Flag, Scalar } from '../../expression'
import { dot, upInBody } from '../../algebra'
import type { Vector } from '../../algebra'
import { name, number } from '../../kinds'
import type { SensedKind } from './sensed'
import { predicted, updated } from '../kalman'

/**
 * Kalman filter of height and climb rate. Each inertial sample moves the estimate by the measured vertical
 * acceleration; each range sample inside the sounder's range corrects it. The covariance is carried along, so the
 * gains suit any mix of rates and missing readings.
 */
export const heightFilter = {
  name: 'heightFilter',
  label: 'height filter',
  says: 'estimates height and climb rate from {range} and {inertial}',
  about:
    'Two states, driven by the accelerometer and corrected by the range finder; covariance propagated at every sample. Anderson & Moore, Optimal Filtering, 1979 (from memory).',
  needs: { range: 'rangeFinder', inertial: 'inertialSensor' },
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    range: name({ label: 'range finder', of: 'text' }),
    inertial: name({ label: 'inertial sensor', of: 'text' }),
    accelerationNoise: number({ label: 'acceleration noise assumed', unit: 'm/s²', above: 0 }),
    rangeNoise: number({ label: 'range noise assumed', unit: 'm', above: 0 }),
    startHeight: number({ label: 'uncertainty of height at the start', unit: 'm', above: 0 }),
    startRate: number({ label: 'uncertainty of climb rate at the start', unit: 'm/s', above: 0 }),
  },
} as const satisfies SensedKind

/** Height, climb rate, and the covariance's three entries. */
export const heightFilterMemory = ['height', 'climbRate', 'heightVariance', 'covariance', 'rateVariance'] as const

export interface HeightFilterInputs {
  readonly roll: Scalar
  readonly pitch: Scalar
  readonly specificForce: Vector
  readonly gravity: Scalar
  /** A new reading has come that lies inside the range. */
  readonly fresh: Flag
  readonly range: Scalar
  /** p_com_sensor in body axes, and the level of the ground */
  readonly arm: Vector
  readonly ground: Scalar
  readonly accelerationNoise: Scalar
  readonly rangeNoise: Scalar
  readonly dt: Scalar
}

/** One sample: moved by the acceleration since the last, then corrected if there is a fresh reading. */
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
  // range along the body's axis, turned upright, less the way from the centre to the sensor
  const measured = add(sub(mul(inputs.range, up_inBody[2]), dot(up_inBody, inputs.arm)), inputs.ground)
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
