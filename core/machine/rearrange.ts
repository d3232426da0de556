import { asin, atan2 } from '../expression'
import { applied, composed, minus, transposedRows } from '../algebra'
import type { Placement, Rows } from '../algebra'
import { partsIn } from '../document'
import type { Part } from '../document'
import { assemble, ground, placement, seatPose } from './assemble'
import { closedPose } from './closeChains'
import { numbersOf } from './numbers'
import { bodyPoses } from './tree'
import { bodiesOf } from './linkedBody'

/** A body and all that hang on it, itself first. */
export function bodiesOn(machine: Part, body: string): string[] {
  const bodies = bodiesOf(machine)
  const found = [body]
  for (const name of found)
    found.push(...Object.keys(bodies).filter((other) => bodies[other]!.joint.on === name && !found.includes(other)))
  return found
}

/**
 * A body hung on another one so that it stays where it is while the machine stands at its start. Numbers replace formulas
 * of its joint's place. `machine` is worked out and without problems; gives the joint.
 */
export function rehungJoint(machine: Part, body: string, on: string): Part {
  const read = numbersOf(machine)
  const assembly = assemble(machine, read)
  const q = closedPose(machine, assembly.start, []) ?? assembly.start
  const poses = bodyPoses(assembly.tree, q)
  const joint = bodiesOf(machine)[body]!.joint
  const poseOf = (name: string) => (name === ground ? undefined : seatPose(assembly.seats.get(name)!, poses))
  const before = poseOf(joint.on)
  const own = placement(joint, `bodies.${body}.joint`, read)
  const near = before === undefined ? own : composed(before, own)
  const { position, rotation } = into(poseOf(on), near)
  return { ...joint, on, at: (position as readonly number[]).map(tidy), turned: turnsOf(rotation).map(tidy) }
}

/** A placement seen from another one. */
function into(frame: Placement | undefined, { position, rotation }: Placement): Placement {
  if (frame === undefined) return { position, rotation }
  const back = transposedRows(frame.rotation)
  const turned = composed({ position: [0, 0, 0], rotation: back }, { position: [0, 0, 0], rotation }).rotation
  return { position: applied(back, minus(position, frame.position)), rotation: turned }
}

/** Turns about fixed x, then y, then z, of a rotation; upright ones where y turns by a quarter and x and z are one. */
export function turnsOf(rotation: Rows): [number, number, number] {
  const [[xx, xy], [yx, yy], [zx, zy, zz]] = rotation as unknown as [[number, number], [number, number], [number, number, number]]
  const pitch = asin(Math.min(1, Math.max(-1, -zx)))
  if (Math.abs(zx) < 1 - 1e-12) return [atan2(zy, zz), pitch, atan2(yx, xx)]
  return [0, pitch, atan2(-xy, yy)]
}

/** Below the rounding of a few rotations, so that what is 0 is shown so. */
function tidy(value: number): number {
  return Math.abs(value) < 1e-12 ? 0 : Number(value.toPrecision(12))
}

export type MirrorPlane = 'x' | 'y' | 'z'

/**
 * A copy of a body with all that hang on it and what acts on them, under new names; with a plane mirrored across it in
 * the frame of what it hangs on, so that equal angles make mirrored poses. Gives the machine and the copy's name.
 */
export function withCopy(machine: Part, body: string, plane?: MirrorPlane): { machine: Part; name: string } {
  const bodies = bodiesOf(machine)
  const copied = bodiesOn(machine, body)
  const { names, renamed } = newNames(copied, Object.keys(bodies), freshName)
  const twins = copied.map((name): [string, Part] => {
    const part = plane === undefined ? bodies[name]! : mirrored(bodies[name]!, plane)
    const joint = part.joint as Part
    return [names.get(name)!, { ...part, joint: { ...joint, on: renamed(joint.on) } }]
  })
  const groups = ['forces', 'drives', 'readings', 'sensors'].flatMap((group) => {
    const parts = Object.entries(partsIn(machine[group]))
    const own = parts.filter(([, part]) => isAbout(part, copied))
    const added = own.reduce<Record<string, Part>>((made, [name, part]) => {
      const copy = Object.fromEntries(Object.entries(part).map(([slot, value]) => [slot, renamed(value)])) as Part
      const twin = plane === undefined ? copy : mirroredPoints(copy, plane)
      return { ...made, [freshName(name, [...parts.map(([one]) => one), ...Object.keys(made)])]: twin }
    }, {})
    return own.length === 0 ? [] : [[group, { ...Object.fromEntries(parts), ...added }]]
  })
  return {
    machine: {
      ...machine,
      bodies: { ...bodies, ...Object.fromEntries(twins) },
      ...(Object.fromEntries(groups) as Record<string, unknown>),
    },
    name: names.get(body)!,
  }
}

/** Slots that name a body by itself. */
const bodySlots = new Set(['on', 'from', 'to', 'body'])

/** A mechanism with a body under another name, in its place and wherever it or its coordinates are named. */
export function withRenamedBody(machine: Part, from: string, to: string): Part {
  const coordinates = new RegExp(`(?<![A-Za-z0-9_.])${from}(?=\\.)`, 'g')
  const renamed = (value: unknown, slot: string): unknown => {
    if (typeof value === 'string') return bodySlots.has(slot) && value === from ? to : value.replace(coordinates, to)
    if (Array.isArray(value)) return value.map((one: unknown) => renamed(one, ''))
    if (typeof value !== 'object' || value === null) return value
    return Object.fromEntries(Object.entries(value).map(([key, one]) => [key, renamed(one, key)]))
  }
  const all = renamed(machine, '') as Part
  const bodies = Object.entries(partsIn(all.bodies)).map(([name, part]) => [name === from ? to : name, part] as const)
  return { ...all, bodies: Object.fromEntries(bodies) }
}

/** New names for bodies, and how anything that names one of them or its coordinates follows. */
export function newNames(
  bodies: readonly string[],
  taken: readonly string[],
  fresh: (name: string, taken: readonly string[]) => string,
): { names: Map<string, string>; renamed: (value: unknown) => unknown } {
  const names = new Map<string, string>()
  for (const name of bodies) names.set(name, fresh(name, [...taken, ...names.values()]))
  const renamed = (value: unknown): unknown => {
    if (typeof value !== 'string') return value
    const [head, ...rest] = value.split('.')
    return names.has(head!) ? [names.get(head!)!, ...rest].join('.') : value
  }
  return { names, renamed }
}

/** Whether a part acts on one of the bodies and on nothing else but ground. */
export function isAbout(part: Part, bodies: readonly string[]): boolean {
  const heads = ['joint', 'body', 'from', 'to', 'source'].flatMap((slot) =>
    typeof part[slot] === 'string' ? [part[slot].split('.')[0]!] : [],
  )
  return heads.some((name) => bodies.includes(name)) && heads.every((name) => name === ground || bodies.includes(name))
}

/** A name that is free: `leftLeg` becomes `rightLeg` where that is free, everything else gets a number. */
export function freshName(name: string, taken: readonly string[]): string {
  const swapped = /left/i.test(name)
    ? name.replace('left', 'right').replace('Left', 'Right')
    : name.replace('right', 'left').replace('Right', 'Left')
  if (swapped !== name && !taken.includes(swapped)) return swapped
  const stem = name.replace(/\d+$/, '')
  for (let i = 2; ; i++) if (!taken.includes(`${stem}${i}`)) return `${stem}${i}`
}

const component = { x: 0, y: 1, z: 2 } as const
type Entry = number | string

/** S v for the plane's reflection S: that component changes its sign. Formulas keep their text with a minus before. */
function flipped(values: readonly Entry[], plane: MirrorPlane): Entry[] {
  return values.map((value, i) => (i === component[plane] ? opposite(value) : value))
}

/** S R S in turns about x, y, z: the turn about the plane's own axis stays, the others change their sign. */
function flippedTurns(values: readonly Entry[], plane: MirrorPlane): Entry[] {
  return values.map((value, i) => (i === component[plane] ? value : opposite(value)))
}

function opposite(value: Entry): Entry {
  if (typeof value === 'number') return value === 0 ? 0 : -value
  return `= -(${value.trim().slice(1).trim()})`
}

function mirrored(body: Part, plane: MirrorPlane): Part {
  const inertia = body.inertia as readonly Entry[]
  const products = { x: [3, 4], y: [3, 5], z: [4, 5] }[plane]
  return {
    ...body,
    centre: flipped(body.centre as Entry[], plane),
    inertia: inertia.map((value, i) => (products.includes(i) ? opposite(value) : value)),
    joint: mirroredJoint(body.joint as Part, plane),
    ...(body.shapes === undefined
      ? {}
      : {
          shapes: Object.fromEntries(
            Object.entries(partsIn(body.shapes)).map(([name, shape]) => [name, mirroredShape(shape, plane)]),
          ),
        }),
  }
}

/** Boxes, cylinders and spheres are their own mirror images; a mesh is scaled by -1 across the plane. */
function mirroredShape(shape: Part, plane: MirrorPlane): Part {
  const placed = mirroredPlace(shape, plane)
  return shape.kind === 'mesh' ? { ...placed, scale: flipped(shape.scale as Entry[], plane) } : placed
}

function mirroredPlace(part: Part, plane: MirrorPlane): Part {
  return { ...part, at: flipped(part.at as Entry[], plane), turned: flippedTurns(part.turned as Entry[], plane) }
}

/** A turn about a is seen in a mirror as one about -S a; a travel along a as one along S a. */
function mirroredJoint(joint: Part, plane: MirrorPlane): Part {
  const turns = joint.kind !== 'sliding'
  const axes = ['axis', 'first', 'second'].flatMap((slot): [string, Entry[]][] => {
    const axis = joint[slot] as readonly number[] | undefined
    if (axis === undefined) return []
    const image = flipped(axis, plane)
    return [[slot, turns ? image.map(opposite) : image]]
  })
  return { ...mirroredPlace(joint, plane), ...Object.fromEntries(axes) }
}

/** Points of forces and sensors on mirrored bodies. */
function mirroredPoints(part: Part, plane: MirrorPlane): Part {
  const points = ['at', 'fromAt', 'toAt', 'axis'].flatMap((slot): [string, Entry[]][] => {
    const own = part[slot] as readonly Entry[] | undefined
    return Array.isArray(own) ? [[slot, flipped(own, plane)]] : []
  })
  return { ...part, ...Object.fromEntries(points) }
}
