import { add, atan2, cos, div, mul, neg, sin, sqrt, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { wrapped } from '../../algebra'
import type { Vector } from '../../algebra'
import { name, number } from '../../kinds'
import type { SensedKind } from './sensed'

/** Roll and pitch from gyroscope and accelerometer: the one for what is quick, the other for what lasts. */
export const tiltFilter = {
  name: 'tiltFilter',
  label: 'tilt filter',
  says: 'estimates roll and pitch from {inertial}, trusting its gyroscope for {timeConstant}',
  about:
    'Complementary filter: the rates are summed up, and drawn towards the tilt that the accelerometer shows with this time constant. In a long turn or climb the accelerometer shows another tilt; a slow filter minds that less and the drift of the gyroscope more. R. G. Brown & P. Y. C. Hwang, Introduction to Random Signals and Applied Kalman Filtering, ch. 8 (from memory).',
  needs: { inertial: 'inertialSensor' },
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    inertial: name({ label: 'inertial sensor', of: 'text' }),
    timeConstant: number({ label: 'time constant', unit: 's', above: 0, most: 1000, otherwise: 2 }),
  },
} as const satisfies SensedKind

export interface TiltInputs {
  /** Body axes, rad/s and m/s². */
  readonly rates: Vector
  readonly specificForce: Vector
  readonly timeConstant: Scalar
  /** s since the last sample */
  readonly dt: Scalar
}

/** One sample: next roll and pitch, and by how much the accelerometer disagreed. */
export function tiltFilterStep(
  [roll, pitch]: readonly [Scalar, Scalar],
  { rates: [p, q, r], specificForce: [x, y, z], timeConstant, dt }: TiltInputs,
): { readonly tilt: readonly [Scalar, Scalar]; readonly innovations: readonly [Scalar, Scalar] } {
  // how the angles of the z-y-x sequence turn with rates in body axes
  const across = add(mul(q, sin(roll)), mul(r, cos(roll)))
  const rollRate = add(p, mul(across, div(sin(pitch), cos(pitch))))
  const pitchRate = sub(mul(q, cos(roll)), mul(r, sin(roll)))
  const moved = [add(roll, mul(rollRate, dt)), add(pitch, mul(pitchRate, dt))] as const
  const seen = [atan2(y, z), atan2(neg(x), sqrt(add(square(y), square(z))))] as const
  const innovations = [wrapped(sub(seen[0], moved[0])), wrapped(sub(seen[1], moved[1]))] as const
  const share = div(dt, add(timeConstant, dt))
  return {
    tilt: [wrapped(add(moved[0], mul(share, innovations[0]))), wrapped(add(moved[1], mul(share, innovations[1])))],
    innovations,
  }
}
