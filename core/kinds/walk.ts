import { nearestName } from '../document'
import type { Part, Problem } from '../document'
import { findKind } from './kind'
import { labelOf } from './labels'
import type { AnyKind, Slot } from './slot'

/** The slot that a path inside a part leads to, following kinds by what the part holds. */
export function findSlot(kinds: readonly AnyKind[], given: unknown, path: readonly (string | number)[]): Slot | undefined {
  const [first, ...rest] = path
  const kind = isPart(given) ? findKind(kinds, given) : undefined
  const slot = kind?.slots[String(first)]
  if (slot === undefined) return undefined
  const value = (given as Part)[String(first)]
  if (slot.type === 'part' && rest.length > 0) return findSlot(slot.kinds, value, rest)
  if (slot.type === 'parts' && rest.length > 1) {
    return findSlot(slot.kinds, (value as Record<string, unknown> | undefined)?.[String(rest[0])], rest.slice(1))
  }
  return slot
}

export interface FoundPart {
  readonly path: string
  /** What people call it and what it belongs to: "hull of boom"; empty for the part itself. */
  readonly words: string
  readonly part: Part
  readonly kind: AnyKind
}

/** A part and every part inside it, with their paths. */
export function everyPart(kinds: readonly AnyKind[], path: string, part: Part, words = ''): FoundPart[] {
  const kind = findKind(kinds, part)
  if (kind === undefined) return []
  const inner = Object.entries(kind.slots).flatMap(([name, slot]) => {
    const value = part[name]
    if (slot.type === 'part' && isPart(value)) return everyPart(slot.kinds, `${path}.${name}`, value, words)
    if (slot.type === 'parts' && typeof value === 'object' && value !== null) {
      return Object.entries(value).flatMap(([key, item]) =>
        isPart(item) ? everyPart(slot.kinds, `${path}.${name}.${key}`, item, ofOwner(labelOf(item, key), words)) : [],
      )
    }
    return []
  })
  return [{ path, words, part, kind }, ...inner]
}

function ofOwner(words: string, owner: string): string {
  return owner === '' ? words : `${words} of ${owner}`
}

/** Fields that every part may have: what it is, what people call it, and where a copy was taken from. */
export const ownFields: ReadonlySet<string> = new Set(['kind', 'label', 'origin'])

/** Fields that no slot knows: kept in the document, but worth a word, since a misspelt name looks just like that. */
export function strangers(found: readonly FoundPart[]): Problem[] {
  return found.flatMap(({ path, part, kind }) => {
    const known = Object.keys(kind.slots)
    const missing = known.filter((name) => !(name in part))
    return Object.keys(part)
      .filter((field) => !ownFields.has(field) && !known.includes(field))
      .map((field) => {
        const near = nearestName(field, missing) ?? nearestName(field, known)
        const remedy = near === undefined ? 'It is kept but does nothing. Remove it if it is a slip.' : `Did you mean ${near}?`
        return { where: `${path}.${field}`, what: `The field \`${field}\` is not known here.`, remedy }
      })
  })
}

export interface NumberPlace {
  readonly path: string
  readonly value: number
  readonly label: string
  /** With what it belongs to: "inertia yy of boom". */
  readonly words: string
  readonly unit: string
}

/** Every number in a part and the parts inside it: what trials may override and programs keep in memory. */
export function everyNumber(kinds: readonly AnyKind[], part: Part): NumberPlace[] {
  return everyPart(kinds, '', part).flatMap(({ path, words, part: owner, kind }) =>
    Object.entries(kind.slots).flatMap(([name, slot]): NumberPlace[] => {
      const place = (at: string, value: number, label: string, unit: string): NumberPlace => ({
        path: at,
        value,
        label,
        words: label === 'value' && words !== '' ? words : ofOwner(label, words),
        unit,
      })
      const at = `${path}.${name}`.slice(1)
      const value = owner[name] ?? (slot.type === 'number' ? slot.otherwise : undefined)
      if (value === undefined) return []
      if (slot.type === 'number') return [place(at, value as number, slot.label, slot.unit)]
      if (slot.type === 'table')
        return (value as number[][]).flatMap((row, i) =>
          row.map((entry, j) => {
            const column = slot.columns?.[j]?.label ?? `column ${j + 1}`
            return place(`${at}.${i}.${j}`, entry, `${slot.label}, ${column} of row ${i + 1}`, slot.columns?.[j]?.unit ?? '')
          }),
        )
      if (slot.type !== 'vector') return []
      return (value as number[]).map((component, i) =>
        place(`${at}.${i}`, component, `${slot.label} ${slot.components[i]}`, slot.unit),
      )
    }),
  )
}

export function isPart(value: unknown): value is Part {
  return typeof value === 'object' && value !== null && typeof (value as { kind?: unknown }).kind === 'string'
}
