import { add, cos, div, mul, neg, select, sin, sqrt, square, sub, sum } from '../../expression'
import type { Flag, Scalar } from '../../expression'
import { applied, attitude, minus, plus, product, quaternionOf, rotation, scaled, wrapped } from '../../algebra'
import type { Quaternion, Vector } from '../../algebra'
import type { Part } from '../../document'
import { name, number } from '../../kinds'
import { upperTriangle, packedSize, predicted, fromUpperTriangle, updated } from '../kalman'
import type { ScalarMatrix } from '../kalman'
import { readingSensors } from './fresh'
import { inertialOf, innovation, rateOfSensor, sinceLast } from './inertial'
import { apartProblems, armOf, attitudeOf, countedFrom, placeOf, unseenProblems } from './ofBody'
import { defineEstimator } from './estimator'

const angles = ['roll', 'pitch', 'heading'] as const
const turning = ['rollRate', 'pitchRate', 'yawRate'] as const
const place = ['east', 'north', 'height'] as const
const moving = ['eastRate', 'northRate', 'climbRate'] as const
const noiseSlots = ['gyroNoise', 'accelerationNoise', 'driftNoise', 'fixNoise', 'headingNoise'] as const
const startSlots = ['startTilt', 'startSpeed', 'startPlace', 'startDrift'] as const

/** Attitude, velocity, position and drift of the gyroscope from an inertial sensor and position fixes. */
export const poseFilter = defineEstimator({
  name: 'poseFilter',
  label: 'pose filter',
  says: 'estimates attitude, velocity and position from {inertial} and {fixes}',
  about:
    'Extended Kalman filter: gyroscope and accelerometer move attitude, velocity and position, with the drift of the gyroscope as a state of its own; position fixes and the measured heading correct them. The error of the attitude is a small rotation in body axes, set to zero into the quaternion after each correction. E. J. Lefferts, F. L. Markley & M. D. Shuster, Journal of Guidance, Control and Dynamics 5 (1982), from memory.',
  needs: { inertial: ['inertialUnit'], fixes: ['positionFix'] },
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    inertial: name({ label: 'inertial sensor', of: 'text' }),
    fixes: name({ label: 'position fixes', of: 'text' }),
    gyroNoise: number({ label: 'gyroscope noise assumed', unit: 'rad/s', above: 0 }),
    accelerationNoise: number({ label: 'acceleration noise assumed', unit: 'm/s²', above: 0 }),
    driftNoise: number({ label: 'change of the drift assumed, from sample to sample', unit: 'rad/s', above: 0 }),
    fixNoise: number({ label: 'noise of a fix assumed', unit: 'm', above: 0 }),
    headingNoise: number({ label: 'noise of the heading assumed', unit: 'rad', above: 0 }),
    startTilt: number({ label: 'uncertainty of the attitude at the start', unit: 'rad', above: 0 }),
    startSpeed: number({ label: 'uncertainty of the velocity at the start', unit: 'm/s', above: 0 }),
    startPlace: number({ label: 'uncertainty of the position at the start', unit: 'm', above: 0 }),
    startDrift: number({ label: 'uncertainty of the drift at the start', unit: 'rad/s', above: 0 }),
  },
  fresh: ({ machine: name }, machine): Part | undefined => readingSensors(poseFilter, name, machine, { driftNoise: 1e-5 }),
  reads: () => [],
  estimates: (machine, part) =>
    [
      ...[...angles, ...turning].map(attitudeOf(machine, part.inertial)),
      ...[...place, ...moving].map(placeOf(machine, part.inertial)),
    ].filter((one) => one !== undefined),
  rate: (machine, part) => rateOfSensor(machine, part.inertial),
  problems: (where, machine, { inertial, fixes }) => [
    ...unseenProblems(`${where}.inertial`, machine, inertial, ['attitude', 'place']),
    ...apartProblems(`${where}.fixes`, machine, inertial, fixes),
  ],
  run: (context) => {
    const { machine, part, known, number: own, sensor, rest } = context
    const [turned, placed] = [attitudeOf(machine, part.inertial), placeOf(machine, part.inertial)]
    const { read: fixed, fresh } = sensor('fixes')
    const numbers = <Slot extends string>(slots: readonly Slot[]) =>
      Object.fromEntries(slots.map((slot) => [slot, own(slot)])) as Record<Slot, Scalar>
    const [roll, pitch, heading] = angles.map((value) => rest(turned(value)!)) as [Scalar, Scalar, Scalar]
    return {
      start: poseStart(
        place.map((value) => rest(placed(value)!)) as unknown as Vector,
        quaternionOf({ roll, pitch, heading }),
        numbers(startSlots),
      ),
      step: (memory) => {
        const {
          memory: next,
          rates,
          innovations,
          surprise,
        } = poseFilterStep(memory, {
          ...inertialOf(context),
          gravity: known('gravity'),
          heading: sensor('inertial').read('heading'),
          fix: minus([fixed('x'), fixed('y'), fixed('z')], countedFrom(machine, known, part.inertial)),
          arm: armOf(machine, known, part.inertial, part.fixes),
          fresh,
          noises: numbers(noiseSlots),
          dt: sinceLast(context),
        })
        const kept = [...rates, ...innovations.fix, innovations.heading, surprise]
        return { memory: next, kept: kept.map((value) => ({ value, start: 0 })) }
      },
      tells: (memory, kept) => {
        const shown = attitude(rotation(memory.slice(0, 4) as unknown as Quaternion))
        return {
          estimates: new Map<string, Scalar>([
            ...angles.map((value) => [turned(value)!, shown[value]] as const),
            ...moving.map((value, i) => [placed(value)!, memory[4 + i]!] as const),
            ...place.map((value, i) => [placed(value)!, memory[7 + i]!] as const),
            ...turning.map((value, i) => [turned(value)!, kept[i]!] as const),
          ]),
          watched: [
            ...place.map((value, i) => innovation(value, 'm', kept[3 + i]!)),
            innovation('heading', 'rad', kept[6]!),
            { name: 'surprise', label: 'surprise of a fix', unit: '', value: kept[7]! },
            ...(['x', 'y', 'z'] as const).map((axis, i) => ({
              ...{ name: `drift.${axis}`, label: `drift about ${axis} estimate`, unit: 'rad/s', isEstimate: true as const },
              value: memory[10 + i]!,
            })),
          ],
        }
      },
    }
  },
  // it hardly lags behind what its gyroscope and accelerometer feel
  atRest: () => undefined,
})

/** Errors: small rotation in body axes, velocity, position, drift. */
const errors = 12
const [tiltAt, speedAt, placeAt, driftAt] = [0, 3, 6, 9]

/** Quaternion, velocity, position, drift, then the covariance's upper triangle by rows. */
export const poseMemory = 4 + 9 + packedSize(errors)

export interface PoseInputs {
  /** Body axes, rad/s and m/s². */
  readonly rates: Vector
  readonly specificForce: Vector
  readonly gravity: Scalar
  readonly heading: Scalar
  readonly fix: Vector
  /** From the inertial sensor to where the fix is taken, body axes, m. */
  readonly arm: Vector
  /** A new fix has come. */
  readonly fresh: Flag
  readonly noises: Readonly<Record<'gyroNoise' | 'accelerationNoise' | 'driftNoise' | 'fixNoise' | 'headingNoise', Scalar>>
  /** s since the last sample; 0 at the first */
  readonly dt: Scalar
}

export interface PoseStep {
  readonly memory: Scalar[]
  /** The measured rates less the drift. */
  readonly rates: Vector
  /** Fix less where it was expected, and the heading. */
  readonly innovations: { readonly fix: Vector; readonly heading: Scalar }
  /** The innovations of a fix squared over their covariance: 3 in the mean where the filter is right about itself. */
  readonly surprise: Scalar
}

/** The memory at the start: at rest at a place, turned so, uncertain as said. */
export function poseStart(
  position: Vector,
  orientation: Quaternion,
  start: Readonly<Record<'startTilt' | 'startSpeed' | 'startPlace' | 'startDrift', Scalar>>,
): Scalar[] {
  const { startTilt, startSpeed, startPlace, startDrift } = start
  const spread = [startTilt, startSpeed, startPlace, startDrift].flatMap((one) => [square(one), square(one), square(one)])
  return [...orientation, ...[0, 0, 0], ...position, ...[0, 0, 0], ...upperTriangle(diagonal(spread))]
}

/** One sample: moved by what the inertial sensor felt, then corrected by the heading and, where one has come, a fix. */
export function poseFilterStep(memory: readonly Scalar[], inputs: PoseInputs): PoseStep {
  const { dt, noises } = inputs
  const q = memory.slice(0, 4) as unknown as Quaternion
  const [velocity, position, drift] = [vectorAt(memory, 4), vectorAt(memory, 7), vectorAt(memory, 10)]
  const p = fromUpperTriangle(memory.slice(13), errors)
  const rates = minus(inputs.rates, drift)
  const r_world_body = rotation(q)
  const acceleration = minus(applied(r_world_body, inputs.specificForce), [0, 0, inputs.gravity])
  const turned = turnedBy(q, scaled(rates, dt))
  const moved = {
    velocity: plus(velocity, scaled(acceleration, dt)),
    position: plus(position, plus(scaled(velocity, dt), scaled(acceleration, mul(0.5, square(dt))))),
  }
  const f = transition(rates, inputs.specificForce, r_world_body, dt)
  const pace = (noise: Scalar) => square(mul(noise, dt))
  const process = [pace(noises.gyroNoise), pace(noises.accelerationNoise), 0, square(noises.driftNoise)]
  const grown = predicted({ x: zeroColumn(), p }, f, diagonal(process.flatMap((one) => [one, one, one])))

  // the heading, by how it turns with a small rotation about the body's y and z
  const { roll, pitch, heading } = attitude(rotation(turned))
  const alongY = div(sin(roll), cos(pitch))
  const alongZ = div(cos(roll), cos(pitch))
  const headingRow = Array.from({ length: errors }, (_, i) => (i === 1 ? alongY : i === 2 ? alongZ : 0))
  const headingInnovation = wrapped(sub(inputs.heading, heading))
  const byHeading = updated(grown, [headingRow], [[square(noises.headingNoise)]], [[headingInnovation]])

  // the fix is taken at the end of its arm, which a small rotation turns about
  const r_world_turned = rotation(turned)
  const swept = crossing(inputs.arm)
  const byTilt = (k: number, j: number) => neg(sum([0, 1, 2].map((i) => mul(r_world_turned[k]![i]!, swept[i]![j]!))))
  const fixRows = [0, 1, 2].map((k) =>
    Array.from({ length: errors }, (_, i) => (i === placeAt + k ? 1 : i < tiltAt + 3 ? byTilt(k, i - tiltAt) : 0)),
  )
  const fixInnovation = minus(inputs.fix, plus(moved.position, applied(r_world_turned, inputs.arm)))
  const noise = diagonal([0, 1, 2].map(() => square(noises.fixNoise)))
  const byFix = updated(
    byHeading,
    fixRows,
    noise,
    fixInnovation.map((one) => [one]),
  )
  const choose = (fresh: Scalar, else_: Scalar) => select(inputs.fresh, fresh, else_)
  const x = byHeading.x.map((row, i) => choose(byFix.x[i]![0]!, row[0]!))
  const after = byHeading.p.map((row, i) => row.map((value, j) => (j < i ? 0 : choose(byFix.p[i]![j]!, value))))

  const orientation = turnedBy(turned, vectorAt(x, tiltAt))
  const next = {
    velocity: plus(moved.velocity, vectorAt(x, speedAt)),
    position: plus(moved.position, vectorAt(x, placeAt)),
    drift: plus(drift, vectorAt(x, driftAt)),
  }
  const told = (k: number) => sum(fixRows[k]!.map((share, i) => mul(share, byHeading.x[i]![0]!)))
  const expected = [0, 1, 2].map((k) => sub(fixInnovation[k]!, told(k)))
  return {
    memory: [...orientation, ...next.velocity, ...next.position, ...next.drift, ...upperTriangle(after)],
    rates: minus(inputs.rates, next.drift),
    innovations: { fix: fixInnovation, heading: headingInnovation },
    surprise: surpriseOf(byHeading.p, expected, noises.fixNoise),
  }
}

/** Only the diagonal of the covariance of a fix, whose entries hardly hang together: enough to watch a filter by. */
function surpriseOf(p: ScalarMatrix, innovation: readonly Scalar[], noise: Scalar): Scalar {
  return sum(innovation.map((one, k) => div(square(one), add(p[placeAt + k]![placeAt + k]!, square(noise)))))
}

/** d' = (1 - [w]dt) d - b dt; v' = v - R [f] d dt; s' = s + v dt; b' = b. */
function transition(w: Vector, f: Vector, r: readonly (readonly Scalar[])[], dt: Scalar): Scalar[][] {
  const rows: Scalar[][] = Array.from({ length: errors }, (_, i) => Array.from({ length: errors }, (__, j) => (i === j ? 1 : 0)))
  const [turning, pulling] = [crossing(w), crossing(f)]
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) {
      rows[tiltAt + i]![tiltAt + j] = sub(i === j ? 1 : 0, mul(dt, turning[i]![j]!))
      const felt = sum([0, 1, 2].map((k) => mul(r[i]![k]!, pulling[k]![j]!)))
      rows[speedAt + i]![tiltAt + j] = neg(mul(dt, felt))
    }
  for (let i = 0; i < 3; i++) {
    rows[tiltAt + i]![driftAt + i] = neg(dt)
    rows[placeAt + i]![speedAt + i] = dt
  }
  return rows
}

/** The matrix of the cross product with v. */
function crossing([x, y, z]: Vector): Scalar[][] {
  return [
    [0, neg(z), y],
    [z, 0, neg(x)],
    [neg(y), x, 0],
  ]
}

/** A quaternion turned on by a small rotation in body axes, of unit length again. */
function turnedBy(q: Quaternion, small: Vector): Quaternion {
  const [w, x, y, z] = product(q, [1, ...scaled(small, 0.5)])
  const size = sqrt(sum([square(w), square(x), square(y), square(z)]))
  return [div(w, size), div(x, size), div(y, size), div(z, size)]
}

function vectorAt(values: readonly Scalar[], from: number): Vector {
  return [values[from]!, values[from + 1]!, values[from + 2]!]
}

function diagonal(values: readonly Scalar[]): Scalar[][] {
  return values.map((value, i) => values.map((_, j) => (i === j ? value : 0)))
}

function zeroColumn(): Scalar[][] {
  return Array.from({ length: errors }, () => [0])
}
