import { applied, plus } from '@calm-hand/core/algebra'
import type { Vector } from '@calm-hand/core/algebra'
import { partsIn } from '@calm-hand/core/document'
import type { Part } from '@calm-hand/core/document'
import { labelOf } from '@calm-hand/core/kinds'
import { assemble, bodiesOf, bodyPoses, closedPose, ground, numbersOf, placement, seatPose } from '@calm-hand/core/machine'

export interface Spot {
  readonly x: number
  readonly y: number
}

/** One body of the sketch, in page units. */
export interface SketchBody {
  readonly name: string
  /** What people call it. */
  readonly label: string
  readonly mass: number
  readonly joint: string
  readonly on: string
  /** Where its joint is, and which way a slider runs. */
  readonly at: Spot
  readonly along: Spot
  readonly bead: Spot
  /** What hangs on it or is closed to it: its line runs to each. */
  readonly ends: readonly Spot[]
}

export interface Sketch {
  readonly bodies: readonly SketchBody[]
  readonly grounds: readonly Spot[]
  /** Where chains close. */
  readonly closings: readonly Spot[]
}

type Triple = readonly [number, number, number]

/** Seen from the side and a little from above, so that left and right legs part. */
function onPage([x, y, z]: Triple): Spot {
  return { x: x + 0.42 * y, y: -z - 0.24 * y }
}

/** The machine as a line sketch at its start, fitted into a page of this size. */
export function sketchOf(machine: Part, width: number, height: number): Sketch {
  const read = numbersOf(machine)
  const assembly = assemble(machine, read)
  const q = closedPose(machine, assembly.start, []) ?? assembly.start
  const poses = bodyPoses(assembly.tree, q)
  const parts = bodiesOf(machine)
  const poseOf = (name: string) => seatPose(assembly.seats.get(name)!, poses)
  const world = (name: string, at: readonly number[]): Triple => {
    const { rotation, position } = poseOf(name)
    return plus(position, applied(rotation, at as unknown as Vector)) as Triple
  }
  const jointAt = (name: string): Triple => {
    const joint = parts[name]!.joint
    return world(joint.on, joint.at)
  }
  const jointAlong = (name: string): Triple => {
    const joint = parts[name]!.joint
    const axis = (joint.axis ?? [0, 0, 1]) as readonly number[]
    const own = applied(placement(joint, `bodies.${name}.joint`, read).rotation, axis as unknown as Vector)
    return applied(poseOf(joint.on).rotation, own) as Triple
  }
  const chains = Object.values(partsIn(machine.chains)).filter((chain) => 'fromAt' in chain)
  const attached = (name: string): Triple[] =>
    chains.flatMap((chain) => [
      ...(chain.from === name ? [world(name, chain.fromAt as readonly number[])] : []),
      ...(chain.to === name ? [world(name, chain.toAt as readonly number[])] : []),
    ])
  const children = (name: string) => Object.keys(parts).filter((one) => parts[one]!.joint.on === name)
  const raw = Object.entries(parts).map(([name, body]) => ({
    name,
    label: labelOf(body, name),
    mass: body.mass,
    joint: body.joint.kind,
    on: body.joint.on,
    at: onPage(jointAt(name)),
    along: onPage(jointAlong(name)),
    bead: onPage(world(name, body.centre)),
    ends: [...children(name).map(jointAt), ...attached(name)].map(onPage),
  }))
  const fit = fitted(
    raw.flatMap(({ at, bead, ends }) => [at, bead, ...ends]),
    width,
    height,
  )
  const bodies = raw.map((body) => ({
    ...body,
    at: fit(body.at),
    bead: fit(body.bead),
    ends: body.ends.map(fit),
    along: unit(body.along),
  }))
  return {
    bodies,
    grounds: bodies.filter(({ on }) => on === ground).map(({ at }) => at),
    closings: chains.map((chain) => fit(onPage(world(chain.from as string, chain.fromAt as readonly number[])))),
  }
}

function unit({ x, y }: Spot): Spot {
  const length = Math.hypot(x, y) || 1
  return { x: x / length, y: y / length }
}

/** A map of the plane that puts all points inside the page, with room for labels. */
function fitted(points: readonly Spot[], width: number, height: number): (point: Spot) => Spot {
  const [left, right] = [Math.min(...points.map(({ x }) => x)), Math.max(...points.map(({ x }) => x))]
  const [top, bottom] = [Math.min(...points.map(({ y }) => y)), Math.max(...points.map(({ y }) => y))]
  const room = { x: 62, top: 26, bottom: 34 }
  const scale = Math.min(
    (width - 2 * room.x) / Math.max(right - left, 1e-6),
    (height - room.top - room.bottom) / Math.max(bottom - top, 1e-6),
  )
  const used = Math.min(scale, 400)
  const shift = {
    x: (width - used * (right - left)) / 2 - used * left,
    y: room.top + (height - room.top - room.bottom - used * (bottom - top)) / 2 - used * top,
  }
  return ({ x, y }) => ({ x: used * x + shift.x, y: used * y + shift.y })
}
