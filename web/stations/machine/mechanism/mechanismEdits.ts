import { partAt, partsIn, replaceAt } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { drivenCoordinates } from '@calm-hand/core/control'
import { blankPart, labelOf, namesIn } from '@calm-hand/core/kinds'
import {
  bodiesOf,
  bodiesOn,
  coordinateNames,
  ground,
  inputNames,
  meshShape,
  motionKind,
  movedCoordinates,
  rehungJoint,
  runnableNames,
  turningJoint,
  withBodyFrom,
  withCopy,
} from '@calm-hand/core/machine'
import type { Assembly, MirrorPlane, ShelfItem, SolidProperties } from '@calm-hand/core/machine'
import { setValue } from '../../../state/edits'
import type { Edit } from '../../../state/edits'
import { freeName } from '../partEdits'
import type { Added } from '../partEdits'

/** A small body that turns on another: a start that has no problems. */
export function addBody(path: string, machine: Part, on: string): Added {
  const name = freeName(Object.keys(bodiesOf(machine)), 'body')
  const part: Part = {
    kind: 'linkedBody',
    mass: 1,
    centre: [0, 0, 0.1],
    inertia: [0.004, 0.004, 0.002, 0, 0, 0],
    joint: blankPart(turningJoint, { on, axis: [0, 1, 0] }),
    shapes: { shape1: { kind: 'box', at: [0, 0, 0.1], turned: [0, 0, 0], size: [0.08, 0.08, 0.2] } },
  }
  return { name, change: setValue(`${path}.bodies.${name}`, part, `Add ${name}`) }
}

/** What a body can hang on without hanging on itself. */
export function hangers(machine: Part, body: string): Record<string, string> {
  const own = bodiesOn(machine, body)
  const names = [ground, ...Object.keys(bodiesOf(machine))].filter((name) => !own.includes(name))
  const bodies = bodiesOf(machine)
  return Object.fromEntries(names.map((name) => [name, labelOf(bodies[name], name)]))
}

/** Hangs a body on another one, where it stands in the document as it is `resolved`; in one with problems as its numbers are. */
export function hangOn(path: string, body: string, on: string, resolved: Document | undefined): Edit {
  return {
    label: `Hang ${body} on ${on}`,
    apply: (document) => {
      if (resolved === undefined) return replaceAt(document, `${path}.bodies.${body}.joint.on`, on)
      const machine = partAt(resolved, path)!
      return replaceAt(document, `${path}.bodies.${body}.joint`, rehungJoint(machine, body, on))
    },
  }
}

/** A copy of a body and all that hangs on it, mirrored across a direction of what it hangs on if wanted. */
export function copyBody(path: string, machine: Part, body: string, plane?: MirrorPlane): Added {
  const { machine: next, name } = withCopy(machine, body, plane)
  return { name, change: setValue(path, next, `${plane === undefined ? 'Copy' : 'Mirror'} ${body}`) }
}

/** A body of another machine with all that hangs on it, hung on one of this. */
export function takeBody(path: string, machine: Part, source: Part, item: ShelfItem, on: string): Added {
  const { machine: next, name } = withBodyFrom(machine, source, item, on)
  return { name, change: setValue(path, next, `Take ${name}`) }
}

/** Takes a body away with everything that hangs on it, and all that acted on them. */
export function removeBody(path: string, machine: Part, body: string): Edit {
  const bodies = bodiesOf(machine)
  const gone = new Set([body])
  for (let size = 0; size !== gone.size;) {
    size = gone.size
    for (const [name, part] of Object.entries(bodies)) if (gone.has(part.joint.on)) gone.add(name)
  }
  const groups = ['chains', 'forces', 'drives', 'pushes', 'readings', 'sensors', 'conditions', 'expectations', 'motions'].filter(
    (group) => group in machine,
  )
  const drives = Object.entries(partsIn(machine.drives))
  const stopped = new Set(drives.filter(([, part]) => namesOneOf(part, gone)).map(([name]) => `drives.${name}`))
  const left = (group: string) =>
    Object.fromEntries(
      Object.entries(partsIn(machine[group])).filter(([, part]) => !namesOneOf(part, gone) && !stopped.has(part.input as string)),
    )
  const next = {
    ...machine,
    bodies: Object.fromEntries(Object.entries(bodies).filter(([name]) => !gone.has(name))),
    ...Object.fromEntries(groups.map((group) => [group, left(group)])),
  }
  return setValue(path, next, `Remove ${body}`)
}

/** A kept mesh in the unit that its scale turns into metres. */
export interface KeptMesh {
  readonly file: string
  readonly mesh: string
  readonly scale: number
}

/** Mass properties of a body, all at once, and the mesh they come from where it is to be drawn: one step of undo. */
export function setMass(path: string, { mass, centre, inertia }: SolidProperties, kept?: KeptMesh): Edit {
  const rounded = (value: number) => Number(value.toPrecision(9))
  return {
    label: 'Set mass from what it is made of',
    apply: (document) => {
      const body = partAt(document, path)!
      const found = { ...body, mass: rounded(mass), centre: centre.map(rounded), inertia: inertia.map(rounded) }
      return replaceAt(document, path, kept === undefined ? found : withMesh(found, kept))
    },
  }
}

/** A body that shows a kept mesh: in its shape of that name, or in a new one. */
function withMesh(body: Part, { file, mesh, scale }: KeptMesh): Part {
  const shapes = partsIn(body.shapes)
  const known = Object.keys(shapes).find((name) => shapes[name]!.kind === 'mesh' && shapes[name]!.file === file)
  const name = known ?? freeName(Object.keys(shapes), 'mesh')
  const placed = shapes[name] ?? blankPart(meshShape)
  return { ...body, shapes: { ...shapes, [name]: { ...placed, file, mesh, scale: [scale, scale, scale] } } }
}

/** s between a kept pose and the next. */
const poseEvery = 2

/** Keeps a pose as the next one of a motion; the first makes the motion, from where the machine starts. */
export function keepPose(
  path: string,
  machine: Part,
  motion: string | undefined,
  { assembly, q }: Readonly<{ assembly: Assembly; q: readonly number[] }>,
): Edit {
  const name = motion ?? 'motion'
  const known = partsIn(machine.motions)?.[name]
  const part = known ?? blankPart(motionKind, freshMotion(machine))
  const rows = part.knots as readonly (readonly number[])[]
  const before = known === undefined ? rows.slice(0, 1) : rows
  const pose = movedCoordinates(part).map((one) => q[assembly.positions.findIndex((position) => position.name === one)] ?? 0)
  const rounded = pose.map((value) => Number(value.toPrecision(6)))
  const knots = [...before, [(before.at(-1)?.[0] ?? -poseEvery) + poseEvery, ...rounded]]
  return setValue(`${path}.motions.${name}`, { ...part, knots }, 'Keep pose')
}

/** What new forces, drives and sensors of a mechanism start with, by slot. */
export function freshSlots(machine: Part): Readonly<Record<string, unknown>> {
  const bodies = Object.keys(bodiesOf(machine))
  const [first, second] = coordinateNames(machine)
  return {
    from: ground,
    to: bodies.at(-1)!,
    body: bodies.at(-1)!,
    joint: first ?? '',
    source: second ?? first ?? '',
    // what is free has no coordinate of its own, but places
    signal: first ?? runnableNames(machine)[0] ?? '',
    thenSignal: second ?? first ?? '',
    input: `drives.${Object.keys(partsIn(machine.drives))[0] ?? ''}`,
    ...freshMotion(machine),
    ...freshSpread(machine),
  }
}

/** Pushes and drives that no allocation names yet, each with a share or count of 1. */
function freshSpread(machine: Part): Readonly<Record<string, unknown>> {
  const spread = Object.values(partsIn(machine.allocations))
  const taken = new Set(spread.flatMap(({ pushes, drives }) => [...namesIn(pushes), ...namesIn(drives)]))
  const pushes = Object.keys(partsIn(machine.pushes)).map((name) => `pushes.${name}`)
  const [idle, drives] = [pushes, inputNames(machine)].map((names) => names.filter((name) => !taken.has(name)))
  return {
    pushes: idle!.join(' '),
    drives: drives!.join(' '),
    shares: [drives!.map(() => 1)],
    counts: [idle!.map(() => 1)],
    mix: drives!.map(() => idle!.map(() => 1)),
  }
}

/** A motion of what drives move, at first standing still. */
function freshMotion(machine: Part): { readonly coordinates: string; readonly knots: readonly (readonly number[])[] } {
  const driven = [...new Set(drivenCoordinates(machine))]
  const moved = driven.length > 0 ? driven : coordinateNames(machine).slice(0, 1)
  const starts = startsOf(machine)
  const row = (time: number) => [time, ...moved.map((name) => starts[name] ?? 0)]
  return { coordinates: moved.join(' '), knots: [row(0), row(poseEvery)] }
}

/** Positions at the start by name; formulas and machines with problems give none. */
function startsOf(machine: Part): Readonly<Record<string, number>> {
  return Object.fromEntries(
    Object.entries(bodiesOf(machine)).flatMap(([name, { joint }]) => {
      const { start, kind } = joint
      return typeof start === 'number' ? [[`${name}.${kind === 'sliding' ? 'travel' : 'angle'}`, start]] : []
    }),
  )
}

/** A body by its name, or by one of its coordinates, also inside a formula or a list of them. */
function namesOneOf(part: Part, bodies: ReadonlySet<string>): boolean {
  return Object.entries(part).some(([slot, value]) => {
    if (slot === 'kind' || typeof value !== 'string') return false
    if (bodies.has(value)) return true
    return [...value.matchAll(/([A-Za-z]\w*)\.\w+/g)].some(([, name]) => bodies.has(name!))
  })
}
