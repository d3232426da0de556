import { findAt } from '../document'
import type { Part } from '../document'
import { findKind } from './kind'
import { labelOf } from './labels'
import { pieces } from './sentence'
import type { AnyKind, Slot } from './slot'
import { findSlot, isPart } from './walk'

/** How numbers and names are said. */
export interface Saying {
  /** A number of an SI unit, with its unit; by the slot that holds it, `waits.time` inside another part. */
  readonly number: (value: number, unit: string, slot: string) => string
  /** A name by what it is of; the name itself unless given. */
  readonly name?: (name: string, of: string) => string
  /** The sentence where it is not that of the kind alone. */
  readonly says?: (says: string, part: Part) => string
}

/** A part as its kind says it, with every slot filled; nothing of a kind that is not among these. Formulas stay as they are written. */
export function spoken(kinds: readonly AnyKind[], part: unknown, saying: Saying): string | undefined {
  const kind = isPart(part) ? findKind(kinds, part) : undefined
  if (kind === undefined || !isPart(part)) return undefined
  return pieces(saying.says?.(kind.says, part) ?? kind.says)
    .map((piece) => {
      if ('text' in piece) return piece.text
      const slot = findSlot(kinds, part, piece.slot.split('.'))
      return slot === undefined ? '' : saidOf(slot, findAt(part, piece.slot), piece.shows === 'bare', piece.slot, saying)
    })
    .join('')
}

function saidOf(slot: Slot, given: unknown, isBare: boolean, at: string, saying: Saying): string {
  const value = given ?? ('otherwise' in slot ? slot.otherwise : undefined)
  const number = (one: unknown, unit: string) =>
    typeof one === 'number' ? (isBare ? String(one) : saying.number(one, unit, at)) : String(one)
  switch (slot.type) {
    case 'number':
      return value === undefined ? 'none' : number(value, slot.unit)
    case 'vector':
      return ((value ?? []) as readonly unknown[]).map((one) => number(one, slot.unit)).join(', ')
    case 'choice':
      return slot.options[String(value)] ?? String(value)
    case 'toggle':
      return value === true ? 'on' : 'off'
    case 'name':
      return value === undefined || value === '' ? 'nothing' : (saying.name?.(String(value), slot.of) ?? String(value))
    case 'formula':
      return String(value ?? '')
    case 'table':
      return `${Array.isArray(value) ? value.length : 0} rows`
    case 'part':
      return spoken(slot.kinds, value, saying) ?? 'nothing'
    case 'parts':
      return Object.entries((value ?? {}) as Readonly<Record<string, unknown>>)
        .map(([key, one]) => labelOf(isPart(one) ? one : undefined, key))
        .join(', ')
    default:
      return slot satisfies never
  }
}
