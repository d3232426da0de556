import { cos, mul, sin } from '../expression'
import type { Scalar } from '../expression'
import { applied, atOrigin, composed, plus, rigidOutOf, rigidPlus, rowsPlus, scaled, turnedBy } from '../algebra'
import type { Placement, RigidInertia, Rows, Vector } from '../algebra'
import { assert } from '../document'
import type { Part } from '../document'
import { findKind, isPart } from '../kinds'
import { joints } from './joints'
import type { Coordinate, JointKind } from './joints/joint'
import { pointInertia } from './pointInertia'
import type { Read } from './read'
import type { Tree, TreeBody } from './tree'
import { bodiesOf } from './linkedBody'
import type { LinkedBody } from './linkedBody'

/** Where a body of the document sits in the tree: bodies fixed to one another are one body of it. */
export interface Seat {
  /** -1 for ground */
  readonly body: number
  readonly place: Placement
}

export interface Assembly {
  readonly tree: Tree
  readonly seats: ReadonlyMap<string, Seat>
  /** Names of positions and speeds: `boom.angle`, `boom.rate`. */
  readonly positions: readonly Coordinate[]
  readonly speeds: readonly Coordinate[]
  /** Positions at the start. */
  readonly start: readonly number[]
  /** Index of the speed that a position is the integral of; nothing where a quaternion stands for a turn. */
  readonly pairs: readonly (number | undefined)[]
}

export const ground = 'ground'

/** The bodies of a mechanism, each after the one it hangs on. `undefined` where that never reaches ground. */
export function outwardOrder(bodies: Readonly<Record<string, LinkedBody>>): string[] | undefined {
  const placed = new Set([ground])
  const order: string[] = []
  let waiting = Object.keys(bodies)
  while (waiting.length > 0) {
    const ready = waiting.filter((name) => placed.has(bodies[name]!.joint.on))
    if (ready.length === 0) return undefined
    for (const name of ready) {
      placed.add(name)
      order.push(name)
    }
    waiting = waiting.filter((name) => !placed.has(name))
  }
  return order
}

/**
 * A mechanism as a tree. Directions and zeros are part of its structure and fold away; all other numbers are asked of
 * `read`. Bodies without freedom are joined to what they hang on.
 */
export function assemble(machine: Part, read: Read): Assembly {
  const bodies = bodiesOf(machine)
  const order = outwardOrder(bodies)
  assert(order !== undefined, 'A checked mechanism reaches ground.')
  const seats = new Map<string, Seat>([[ground, { body: -1, place: atOrigin }]])
  const tree: TreeBody[] = []
  let fixed: RigidInertia | undefined
  const [positions, speeds, start]: [Coordinate[], Coordinate[], number[]] = [[], [], []]
  const pairs: (number | undefined)[] = []
  for (const name of order) {
    const part = bodies[name]!
    const joint = part.joint
    const kind = findKind(joints, joint)!
    const near = seats.get(joint.on)!
    const own = placement(joint, `bodies.${name}.joint`, read)
    const inertia = inertiaOf(part, `bodies.${name}`, read)
    if (kind.speeds.length === 0) {
      const place = composed(near.place, own)
      seats.set(name, { body: near.body, place })
      const there = rigidOutOf(place, inertia)
      if (near.body >= 0) tree[near.body] = joined(tree[near.body]!, there)
      else fixed = fixed === undefined ? there : rigidPlus(fixed, there)
      continue
    }
    seats.set(name, { body: tree.length, place: atOrigin })
    tree.push({
      name,
      parent: near.body,
      place: composed(near.place, own),
      joint: kind.motion(axesOf(kind, joint)),
      positions: kind.positions.length,
      speeds: kind.speeds.length,
      inertia,
    })
    const named = (list: readonly Coordinate[]) => list.map((one) => ({ ...one, name: `${name}.${one.name}` }))
    kind.positions.forEach((_, i) => pairs.push(kind.goInPairs ? speeds.length + i : undefined))
    positions.push(...named(kind.positions))
    speeds.push(...named(kind.speeds))
    start.push(
      ...kind.rest.map((value) => (kind.positions.length === 1 ? ((joint.start as number | undefined) ?? value) : value)),
    )
  }
  const gravity: Vector = [0, 0, mul(-1, structural(machine.gravity as number | undefined, 'gravity', read))]
  return { tree: { bodies: tree, gravity, ...(fixed === undefined ? {} : { fixed }) }, seats, positions, speeds, start, pairs }
}

/** Bodies with the kinds of their joints, also of a machine that has problems: a body may lack its joint. */
export function jointKindsOf(machine: Part): { readonly name: string; readonly kind: JointKind }[] {
  return Object.entries((machine.bodies ?? {}) as Readonly<Record<string, Partial<Part> | null>>).flatMap(([name, body]) => {
    const kind = isPart(body?.joint) ? findKind(joints, body.joint) : undefined
    return kind === undefined ? [] : [{ name, kind }]
  })
}

/** Coordinates by name that effects and chains may act on, also of a machine that has problems. */
export function coordinateNames(machine: Part): string[] {
  return jointKindsOf(machine).flatMap(({ name, kind }) =>
    kind.goInPairs ? kind.positions.map((one) => `${name}.${one.name}`) : [],
  )
}

/** Directions about or along which a joint moves, in the frame of its body as it starts; none for one that has no axis. */
export function findSeatAxes(joint: Part): (readonly [number, number, number])[] {
  return (findKind(joints, joint)?.axes ?? []).map((slot) => joint[slot] as readonly [number, number, number])
}

/** What says where it lies: m, and rad about fixed x, then y, then z. */
export interface Placed {
  readonly at: readonly number[]
  readonly turned: readonly number[]
}

/** A placement from the slots `at` and `turned` of a part. */
export function placement({ at, turned }: Placed, path: string, read: Read): Placement {
  const exact = (value: number) => (Math.abs(value) < negligible ? 0 : value) // quarter turns leave exact zeros
  return {
    position: structuralVector(at, `${path}.at`, read),
    rotation: turnedBy(turned.map((angle) => exact(cos(angle))) as never, turned.map((angle) => exact(sin(angle))) as never),
  }
}

/** Below the rounding of an angle near pi. */
const negligible = 1e-15

/** A vector of which the zeros are structure. */
export function structuralVector(values: readonly number[], path: string, read: Read): Vector {
  return values.map((value, i) => structural(value, `${path}.${i}`, read)) as unknown as Vector
}

/** A zero in the document is structure and stays 0; everything else may change without another program. */
function structural(value: number | undefined, path: string, read: Read): Scalar {
  return value === 0 ? 0 : read(path)
}

/** Unit vectors of the slots that are axes. */
function axesOf(kind: JointKind, joint: Part): Record<string, Vector> {
  return Object.fromEntries(
    kind.axes.map((slot) => {
      const given = joint[slot] as readonly [number, number, number]
      const length = Math.sqrt(given[0] ** 2 + given[1] ** 2 + given[2] ** 2)
      return [slot, length === 1 ? given : scaled(given, 1 / length)]
    }),
  )
}

function inertiaOf(part: LinkedBody, path: string, read: Read): RigidInertia {
  const mass = structural(part.mass, `${path}.mass`, read)
  const centre = structuralVector(part.centre, `${path}.centre`, read)
  const [xx, yy, zz, xy, xz, yz] = part.inertia.map((value, i) => structural(value, `${path}.inertia.${i}`, read)) as [
    Scalar,
    Scalar,
    Scalar,
    Scalar,
    Scalar,
    Scalar,
  ]
  const own: Rows = [
    [xx, xy, xz],
    [xy, yy, yz],
    [xz, yz, zz],
  ]
  return { mass, moment: scaled(centre, mass), about: rowsPlus(own, pointInertia(mass, centre)) }
}

function joined(body: TreeBody, more: RigidInertia): TreeBody {
  return { ...body, inertia: rigidPlus(body.inertia, more) }
}

/** r_world_part and p_world_part of a seat, from the poses of the tree's bodies. */
export function seatPose(seat: Seat, poses: readonly Placement[]): Placement {
  if (seat.body < 0) return seat.place
  const pose = poses[seat.body]!
  return seat.place === atOrigin ? pose : composed(pose, seat.place)
}

/** A point given on a placed frame, in the frame it is placed in. */
export function placedPoint({ rotation, position }: Placement, at: Vector): Vector {
  return plus(position, applied(rotation, at))
}
