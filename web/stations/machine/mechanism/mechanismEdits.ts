import type { Part } from '@calm-hand/core/document'
import { blankPart } from '@calm-hand/core/kinds'
import type { AnyKind } from '@calm-hand/core/kinds'
import { coordinateNames, ground, turningJoint } from '@calm-hand/core/machine'
import type { SolidProperties } from '@calm-hand/core/machine'
import { removePart, setValue } from '../../../state/edits'
import type { Edit } from '../../../state/edits'

export interface Added {
  readonly name: string
  readonly change: Edit
}

/** A small body that turns on another: a start that has no problems. */
export function addBody(path: string, machine: Part, on: string): Added {
  const name = freeName(Object.keys(machine.bodies as object), 'body')
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

/** Takes a body away with everything that hangs on it, and all that acted on them. */
export function removeBody(path: string, machine: Part, body: string): Edit {
  const bodies = machine.bodies as Readonly<Record<string, Part>>
  const gone = new Set([body])
  for (let size = 0; size !== gone.size;) {
    size = gone.size
    for (const [name, part] of Object.entries(bodies)) if (gone.has((part.joint as Part).on as string)) gone.add(name)
  }
  const names = (part: Part) =>
    [part.from, part.to, part.body, bodyOf(part.joint), bodyOf(part.source)].some(
      (name) => typeof name === 'string' && gone.has(name),
    )
  const left = (group: string) =>
    Object.fromEntries(
      Object.entries((machine[group] ?? {}) as Readonly<Record<string, Part>>).filter(([, part]) => !names(part)),
    )
  const next = {
    ...machine,
    bodies: Object.fromEntries(Object.entries(bodies).filter(([name]) => !gone.has(name))),
    ...Object.fromEntries(
      ['chains', 'forces', 'drives', 'sensors'].filter((group) => group in machine).map((group) => [group, left(group)]),
    ),
  }
  return setValue(path, next, `Remove ${body}`)
}

/** Mass properties of a body, all at once: one step of undo. */
export function setMass(path: string, body: Part, { mass, centre, inertia }: SolidProperties): Edit {
  const rounded = (value: number) => Number(value.toPrecision(9))
  return setValue(
    path,
    { ...body, mass: rounded(mass), centre: centre.map(rounded), inertia: inertia.map(rounded) },
    'Set mass from what it is made of',
  )
}

export function addEffect(path: string, machine: Part, group: string, kind: AnyKind): Added {
  const name = freeName(Object.keys((machine[group] ?? {}) as object), kind.name)
  const bodies = Object.keys(machine.bodies as object)
  const [first, second] = coordinateNames(machine)
  const named = { from: ground, to: bodies.at(-1)!, body: bodies.at(-1)!, joint: first ?? '', source: second ?? first ?? '' }
  const given = Object.fromEntries(Object.entries(named).filter(([slot]) => slot in kind.slots))
  return { name, change: setValue(`${path}.${group}.${name}`, blankPart(kind, given), `Add ${name}`) }
}

export function removeEffect(path: string, group: string, name: string): Edit {
  return removePart(`${path}.${group}.${name}`, `Remove ${name}`)
}

function bodyOf(coordinate: unknown): string | undefined {
  return typeof coordinate === 'string' ? coordinate.split('.')[0] : undefined
}

function freeName(taken: readonly string[], wanted: string): string {
  if (!taken.includes(wanted)) return wanted
  for (let i = 2; ; i++) if (!taken.includes(`${wanted}${i}`)) return `${wanted}${i}`
}
