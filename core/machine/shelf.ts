import { contentHash, partAt, partsIn } from '../document'
import type { Document, Part } from '../document'
import { findKind } from '../kinds'
import type { AnyKind } from '../kinds'
import { ground } from './assemble'
import { bodiesOn, freshName, isAbout, newNames } from './rearrange'
import { bodiesOf } from './linkedBody'

/** Where a part was taken from, kept with the copy. */
export interface ShelfOrigin {
  readonly project: string
  /** `machines.turret.drives.panMotor` */
  readonly path: string
  /** Content of the original as it was taken. */
  readonly hash: string
}

export interface ShelfItem {
  readonly project: string
  readonly title: string
  readonly path: string
  readonly name: string
  readonly part: Part
}

/** Parts of a group that a project's mechanisms offer to other machines; its formulas worked out. */
export function shelfItems(project: string, { title, machines }: Document, group: string): ShelfItem[] {
  if (group === 'machines')
    return Object.entries(machines).map(([name, part]) => ({ project, title, path: `machines.${name}`, name, part }))
  return Object.entries(machines).flatMap(([machine, { [group]: parts }]) =>
    Object.entries(partsIn(parts)).map(([name, part]) => ({
      project,
      title,
      path: `machines.${machine}.${group}.${name}`,
      name,
      part,
    })),
  )
}

/**
 * A copy of a part of another machine: names of bodies, joints and batteries become those of `fresh` (nothing where it has
 * none), everything else stays, and the copy remembers where it came from.
 */
export function takenFrom(item: ShelfItem, kinds: readonly AnyKind[], fresh: Readonly<Record<string, unknown>>): Part {
  const { origin: _older, ...part } = item.part
  const kind = findKind(kinds, item.part)
  const named = Object.entries(kind?.slots ?? {}).flatMap(([slot, definition]) =>
    definition.type === 'name' && definition.of !== 'text' && slot in part ? [[slot, fresh[slot] ?? ''] as const] : [],
  )
  return { ...part, ...Object.fromEntries(named), origin: originOf(item) } as Part
}

export function originOf({ project, path, part }: Pick<ShelfItem, 'project' | 'path' | 'part'>): ShelfOrigin {
  const { origin: _older, ...own } = part
  return { project, path, hash: contentHash(own) }
}

/** What has become of the original of a copy. */
export function originState(origin: ShelfOrigin, original: Document | undefined): 'same' | 'changed' | 'gone' {
  const part = original === undefined ? undefined : partAt(original, origin.path)
  if (part === undefined) return 'gone'
  return originOf({ ...origin, part }).hash === origin.hash ? 'same' : 'changed'
}

/**
 * A mechanism with a body of another one, all that hangs on it and what acts on them alone, hung on a body of its own.
 * Gives the machine and the name of the body there.
 */
export function withBodyFrom(machine: Part, source: Part, item: ShelfItem, on: string): { machine: Part; name: string } {
  const theirs = bodiesOf(source)
  const taken = bodiesOn(source, item.name)
  const { names, renamed } = newNames(taken, [...Object.keys(bodiesOf(machine)), ground], freeOf)
  const bodies = taken.map((name): [string, Part] => {
    const part = theirs[name]!
    const joint = part.joint
    const hung = { ...joint, on: name === item.name ? on : renamed(joint.on) }
    return [names.get(name)!, { ...part, joint: hung, ...(name === item.name ? { origin: originOf(item) } : {}) }]
  })
  const groups = ['forces', 'drives', 'readings', 'sensors'].flatMap((group) => {
    const own = partsIn(machine[group])
    const added = Object.entries(partsIn(source[group]))
      .filter(([, part]) => isAbout(part, taken) && !part.supply) // its battery stays behind
      .reduce<Record<string, Part>>((made, [name, part]) => {
        const copy = Object.fromEntries(Object.entries(part).map(([slot, value]) => [slot, renamed(value)])) as Part
        return { ...made, [freeOf(name, [...Object.keys(own), ...Object.keys(made)])]: copy }
      }, {})
    return Object.keys(added).length === 0 ? [] : [[group, { ...own, ...added }]]
  })
  return {
    machine: {
      ...machine,
      bodies: { ...(machine.bodies as object), ...Object.fromEntries(bodies) },
      ...(Object.fromEntries(groups) as Record<string, unknown>),
    },
    name: names.get(item.name)!,
  }
}

function freeOf(name: string, taken: readonly string[]): string {
  return taken.includes(name) ? freshName(name, taken) : name
}
