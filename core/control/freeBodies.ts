import { add, cos, div, mul, sin, sub } from '../expression'
import type { Scalar } from '../expression'
import {
  applied,
  attitude,
  cross,
  minus,
  plus,
  product,
  quaternionFromRotation,
  quaternionOf,
  rotation,
  rowsTimes,
  transposedRows,
} from '../algebra'
import type { Attitude, Quaternion, Rows, Vector } from '../algebra'
import type { Part } from '../document'
import { bodiesOf, ground, placement, readingParts, readVector } from '../machine'
import type { MechanismForm, Read } from '../machine'

/** The states of a mechanism with its free bodies by their angles and the places of points, under the names of readings. */
export interface ByAngles {
  readonly names: readonly string[]
  /** From such states to those of the mechanism, and back. */
  readonly toForm: (x: readonly Scalar[]) => Scalar[]
  readonly fromForm: (states: readonly Scalar[]) => Scalar[]
  /** Rates of such states, from those of the mechanism. */
  readonly rates: (x: readonly Scalar[], rates: readonly Scalar[]) => Scalar[]
}

/** A body that is free of ground. Indices are those of its first position and speed in the mechanism. */
interface FreeBody {
  readonly position: number
  readonly speed: number
  readonly angles: readonly string[]
  readonly angleRates: readonly string[]
  readonly places: readonly string[]
  readonly placeRates: readonly string[]
  /** The point whose place it is, in axes of the body, and where places count from. */
  readonly at: Vector
  readonly from: Vector
  /** Its joint as it is hung in the world. */
  readonly joint: { readonly rotation: Rows; readonly position: Vector }
  readonly unturned: Quaternion
}

/** Without free bodies on ground, the states of the mechanism as they are. */
export function byAngles(machine: Part, read: Read, form: MechanismForm): ByAngles {
  const bodies = freeBodiesOf(machine, read, form)
  const { positions, speeds } = form.assembly
  const startOf = (at: number) => bodies.find(({ position }) => position === at)
  const isInside = (at: number) => bodies.some(({ position }) => at > position && at < position + 7)
  const native = form.states.map(({ name }) => name)
  const names = [
    ...positions.flatMap((_, i) => {
      const body = startOf(i)
      return body !== undefined ? [...body.angles, ...body.places] : isInside(i) ? [] : [native[i]!]
    }),
    ...speeds.map((_, i) => {
      const body = bodies.find(({ speed }) => i >= speed && i < speed + 6)
      return body === undefined ? native[positions.length + i]! : [...body.angleRates, ...body.placeRates][i - body.speed]!
    }),
    ...native.slice(positions.length + speeds.length),
  ]
  const where = new Map(names.map((name, i) => [name, i]))
  const picked = (x: readonly Scalar[], list: readonly string[]) => list.map((name) => x[where.get(name)!]!) as unknown as Vector
  const seen = (x: readonly Scalar[], body: FreeBody) => {
    const [roll, pitch, heading] = picked(x, body.angles)
    const turning = picked(x, body.angleRates)
    const world = rotation(quaternionOf({ roll, pitch, heading }))
    return { roll, pitch, turning, world, place: picked(x, body.places), moving: picked(x, body.placeRates) }
  }
  return {
    names,
    toForm: (x) => {
      const states: Scalar[] = native.map((name) => x[where.get(name) ?? -1] ?? 0)
      for (const body of bodies) {
        const [roll, pitch, heading] = picked(x, body.angles)
        const { turning, world, place, moving } = seen(x, body)
        const origin = minus(plus(place, body.from), applied(world, body.at))
        const velocity = minus(applied(transposedRows(world), moving), cross(turning, body.at))
        const q = product(body.unturned, quaternionOf({ roll, pitch, heading }))
        const inJoint = applied(transposedRows(body.joint.rotation), minus(origin, body.joint.position))
        ;[...q, ...inJoint].forEach((value, i) => (states[body.position + i] = value))
        ;[...turning, ...velocity].forEach((value, i) => (states[positions.length + body.speed + i] = value))
      }
      return states
    },
    fromForm: (states) => {
      const x: Scalar[] = names.map((name) => states[native.indexOf(name)] ?? 0)
      const put = (list: readonly string[], values: readonly Scalar[]) =>
        list.forEach((name, i) => (x[where.get(name)!] = values[i]!))
      for (const body of bodies) {
        const own = states.slice(body.position, body.position + 7)
        const speed = states.slice(positions.length + body.speed, positions.length + body.speed + 6)
        const [turning, velocity] = [speed.slice(0, 3), speed.slice(3)] as unknown as [Vector, Vector]
        const world = rowsTimes(body.joint.rotation, rotation(own.slice(0, 4) as unknown as Quaternion))
        const { roll, pitch, heading } = attitude(world)
        const origin = plus(body.joint.position, applied(body.joint.rotation, own.slice(4) as unknown as Vector))
        put(body.angles, [roll, pitch, heading])
        put(body.places, minus(plus(origin, applied(world, body.at)), body.from))
        put(body.angleRates, turning)
        put(body.placeRates, applied(world, plus(velocity, cross(turning, body.at))))
      }
      return x
    },
    rates: (x, rates) => {
      const found: Scalar[] = names.map((name) => rates[native.indexOf(name)] ?? 0)
      const put = (list: readonly string[], values: readonly Scalar[]) =>
        list.forEach((name, i) => (found[where.get(name)!] = values[i]!))
      for (const body of bodies) {
        const { roll, pitch, turning, world, moving } = seen(x, body)
        const changes = rates.slice(positions.length + body.speed, positions.length + body.speed + 6)
        const [twist, pull] = [changes.slice(0, 3), changes.slice(3)] as unknown as [Vector, Vector]
        const velocity = minus(applied(transposedRows(world), moving), cross(turning, body.at))
        const atOrigin = plus(pull, cross(turning, velocity))
        const swung = plus(cross(twist, body.at), cross(turning, cross(turning, body.at)))
        put(body.angles, angleRates({ roll, pitch }, turning))
        put(body.places, moving)
        put(body.angleRates, twist)
        put(body.placeRates, applied(world, plus(atOrigin, swung)))
      }
      return found
    },
  }
}

function freeBodiesOf(machine: Part, read: Read, form: MechanismForm): FreeBody[] {
  const { positions, speeds } = form.assembly
  return Object.entries(bodiesOf(machine)).flatMap(([body, part]) => {
    const joint = part.joint
    if (joint.kind !== 'free' || joint.on !== ground) return []
    const seen = (kind: string) =>
      readingParts(machine).find(({ part: one }) => one.kind === kind && one.body === body && one.from === ground)?.path
    const [turned, placed] = [seen('attitudeReading'), seen('placeReading')]
    const under = (path: string | undefined, values: readonly string[]) => values.map((value) => `${path ?? body}.${value}`)
    const hung = placement(joint, `bodies.${body}.joint`, read)
    return [
      {
        position: positions.findIndex(({ name }) => name === `${body}.attitude.w`),
        speed: speeds.findIndex(({ name }) => name === `${body}.wx`),
        angles: under(turned, ['roll', 'pitch', 'heading']),
        angleRates: under(turned, ['rollRate', 'pitchRate', 'yawRate']),
        places: under(placed, ['east', 'north', 'height']),
        placeRates: under(placed, ['eastRate', 'northRate', 'climbRate']),
        at: placed === undefined ? [0, 0, 0] : readVector(read, `${placed}.at`),
        from: placed === undefined ? [0, 0, 0] : readVector(read, `${placed}.fromAt`),
        joint: hung,
        unturned: conjugate(hung.rotation),
      },
    ]
  })
}

/** The turn back: joints are hung by numbers that no run changes. */
function conjugate(rows: Rows): Quaternion {
  const [w, x, y, z] = quaternionFromRotation(rows as unknown as readonly (readonly number[])[])
  return [w, -x, -y, -z]
}

/** Rates of roll, pitch and heading from the rates about the body's own axes. */
export function angleRates({ roll, pitch }: Pick<Attitude, 'roll' | 'pitch'>, [p, q, r]: readonly Scalar[]): readonly Scalar[] {
  const turning = div(add(mul(q!, sin(roll)), mul(r!, cos(roll))), cos(pitch))
  return [add(p!, mul(turning, sin(pitch))), sub(mul(q!, cos(roll)), mul(r!, sin(roll))), turning]
}
