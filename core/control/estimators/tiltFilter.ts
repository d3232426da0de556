import { add, atan2, cos, div, mul, neg, sin, sqrt, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { identity, times, wrapped } from '../../algebra'
import type { Vector } from '../../algebra'
import type { Part } from '../../document'
import { name, number, valuesOf } from '../../kinds'
import { names } from '../../linear'
import { designLayers } from '../../machine'
import { linearMachine } from '../plant'
import type { LinearEstimator } from './estimator'
import { readingSensors } from './fresh'
import { inertialOf, innovation, rateOfSensor, sinceLast } from './inertial'
import { attitudeOf, unseenProblems } from './ofBody'
import { defineEstimator } from './estimator'

const values = ['roll', 'pitch'] as const

/** Roll and pitch from gyroscope and accelerometer: the one for what is quick, the other for what lasts. */
export const tiltFilter = defineEstimator({
  name: 'tiltFilter',
  label: 'tilt filter',
  says: 'estimates roll and pitch from {inertial}, trusting its gyroscope for {timeConstant}',
  about:
    'Complementary filter: the rates are summed up, and drawn towards the tilt that the accelerometer shows with this time constant. In a long turn or climb the accelerometer shows another tilt; a slow filter minds that less and the drift of the gyroscope more. R. G. Brown & P. Y. C. Hwang, Introduction to Random Signals and Applied Kalman Filtering, ch. 8 (from memory).',
  needs: { inertial: ['inertialUnit'] },
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    inertial: name({ label: 'inertial sensor', of: 'text' }),
    timeConstant: number({ label: 'time constant', unit: 's', above: 0, most: 1000, otherwise: 2 }),
  },
  fresh: ({ machine: name }, machine): Part | undefined => readingSensors(tiltFilter, name, machine),
  reads: () => [],
  estimates: (machine, part) => values.map(attitudeOf(machine, part.inertial)).filter((one) => one !== undefined),
  rate: (machine, part) => rateOfSensor(machine, part.inertial),
  problems: (where, machine, { inertial }) => unseenProblems(`${where}.inertial`, machine, inertial, ['attitude']),
  run: (context) => {
    const quantities = values.map((value) => attitudeOf(context.machine, context.part.inertial)(value)!)
    return {
      start: quantities.map(context.rest),
      step: (memory) => {
        const { tilt, innovations } = tiltFilterStep(memory as readonly [Scalar, Scalar], {
          ...inertialOf(context),
          timeConstant: context.number('timeConstant'),
          dt: sinceLast(context),
        })
        return { memory: tilt, kept: innovations.map((value) => ({ value, start: 0 })) }
      },
      tells: (memory, kept) => ({
        estimates: new Map(quantities.map((quantity, i) => [quantity, memory[i]!])),
        watched: values.map((value, i) => innovation(value, 'rad', kept[i]!)),
      }),
    }
  },
  atRest: tiltFilterAtRest,
})

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

/**
 * The tilt filter about where its machine rests, from its three rates and specific forces: what those answer to tilt is the
 * machine's own to say, since one that is carried by ground feels gravity turn and one that hovers does not.
 */
function tiltFilterAtRest(machine: Part, _where: string, part: Part): LinearEstimator | undefined {
  const dt = 1 / rateOfSensor(machine, part.inertial)
  const { timeConstant } = valuesOf(tiltFilter, part)
  const point = linearMachine(machine, designLayers.all)
  if (point.kind === 'refused') return undefined
  const { held } = point.value.operatingPoint
  const signals = ['rateX', 'rateY', 'rateZ', 'forceX', 'forceY', 'forceZ'].map((one) => `sensors.${part.inertial}.${one}`)
  const estimated = values.map((value) => attitudeOf(machine, part.inertial)(value)!)
  const [roll, pitch] = estimated.map((one) => held[one] ?? 0) as [number, number]
  const [x, y, z] = signals.slice(3).map((one) => held[one] ?? 0) as [number, number, number]
  const across = y * y + z * z
  // nothing is felt, as in free fall: nothing says where up is
  if (across < weightless) return undefined
  const share = dt / (timeConstant + dt)
  const [s, c] = [sin(roll), cos(roll)]
  const slope = sin(pitch) / cos(pitch)
  const turning = [
    [1, s * slope, c * slope],
    [0, c, -s],
  ]
  const [all, flat] = [across + x * x, sqrt(across)]
  const seen = [
    [0, z / across, -y / across],
    [-flat / all, (x * y) / (flat * all), (x * z) / (flat * all)],
  ]
  const b = [0, 1].map((i) => [
    ...turning[i]!.map((entry) => (1 - share) * dt * entry),
    ...seen[i]!.map((entry) => share * entry),
  ])
  const a = times(identity(2), 1 - share)
  return { reads: signals, knowsPushes: false, estimated, system: { a, b, c: a, d: b, dt, ...names(2, 6, 2) } }
}

/** (m/s²)²: far below what any accelerometer tells. */
const weightless = 1e-6
