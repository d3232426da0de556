import { groups } from './check'
import type { Document, Part } from './document'
import { findKind, isPart, labelOf } from './kinds'
import type { AnyKind, Slot } from './kinds'

/**
 * A place of a document as people say it: `machines.turret.bodies.yoke.mass` is "mass of yoke", `loops.pan.rate` "sample
 * rate of pan". A place that no kind knows stays as it is written.
 */
export function placeInWords(document: Document, path: string): string {
  const [group, name, ...rest] = path.split('.') as [string, string?, ...string[]]
  const part = (document as unknown as Readonly<Record<string, Readonly<Record<string, unknown>> | undefined>>)[group]?.[
    name ?? ''
  ]
  if (name === undefined || !isPart(part) || !Object.hasOwn(groups, group)) return path
  return within(groups[group as keyof typeof groups], part, called(part, name), rest, group === 'machines') ?? path
}

/** `isWhole`: a machine, which goes without saying once one of its parts is named. */
function within(
  kinds: readonly AnyKind[],
  part: Part,
  owner: string,
  path: readonly string[],
  isWhole = false,
): string | undefined {
  const [first, second, ...rest] = path
  if (first === undefined) return owner
  const slot: Slot | undefined = findKind(kinds, part)?.slots[first]
  const value = part[first]
  if (slot === undefined) return undefined
  if (slot.type === 'parts' && second !== undefined) {
    const inner = (value as Readonly<Record<string, unknown>> | undefined)?.[second]
    if (!isPart(inner)) return undefined
    const own = called(inner, second)
    return within(slot.kinds, inner, isWhole ? own : `${own} of ${owner}`, rest)
  }
  if (slot.type === 'part' && second !== undefined && isPart(value)) return within(slot.kinds, value, owner, path.slice(1))
  const component = slot.type === 'vector' && second !== undefined ? ` ${slot.components[Number(second)] ?? ''}` : ''
  const row = slot.type === 'table' && second !== undefined ? `, row ${Number(second) + 1}` : ''
  return `${slot.label}${component}${row} of ${owner}`
}

/** Trials have a title, other parts a label. */
function called(part: Part, name: string): string {
  return typeof part.title === 'string' ? part.title : labelOf(part, name)
}
