import type { Part } from '../document'
import type { AnyKind, NumberSlot, Slot } from './slot'
import { isPart, ownFields } from './walk'

/**
 * A part of a kind with every slot filled: what `given` has and fits is kept, the rest starts with a value that the
 * schema takes. Names stay empty unless given. What no slot takes is left behind, but for the part's own words and origin.
 */
export function blankPart(kind: AnyKind, given: Readonly<Record<string, unknown>> = {}): Part {
  const filled = Object.entries(kind.slots)
    .filter(([name, slot]) => fits(slot, given[name]) || !isOptional(slot))
    .map(([name, slot]) => [name, fits(slot, given[name]) ? given[name] : blank(slot)])
  const own = Object.entries(given).filter(([name]) => ownFields.has(name))
  return { ...Object.fromEntries([...own, ...filled]), kind: kind.name }
}

/** Whether a value is of the sort that a slot takes: that of another kind's slot of the same name may not be. */
function fits(slot: Slot, value: unknown): boolean {
  switch (slot.type) {
    case 'number':
      return typeof value === 'number' ? allows(slot, value) : typeof value === 'string' && value.startsWith('=')
    case 'vector':
      return Array.isArray(value) && value.length === slot.components.length && !value.some(Array.isArray)
    case 'table':
      return (
        Array.isArray(value) &&
        value.every((row) => Array.isArray(row) && (slot.columns === undefined || row.length === slot.columns.length))
      )
    case 'choice':
      return typeof value === 'string' && Object.hasOwn(slot.options, value)
    case 'toggle':
      return typeof value === 'boolean'
    case 'formula':
    case 'name':
      return typeof value === 'string'
    case 'part':
      return isPart(value) && slot.kinds.some(({ name }) => name === value.kind)
    case 'parts':
      return typeof value === 'object' && value !== null && !Array.isArray(value)
    default:
      return slot satisfies never
  }
}

function isOptional(slot: Slot): boolean {
  return 'optional' in slot && slot.optional === true
}

function blank(slot: Slot): unknown {
  switch (slot.type) {
    case 'number':
      return slot.otherwise ?? startingNumber(slot)
    case 'vector':
      return slot.fill ?? slot.components.map(() => 0)
    case 'table':
      return slot.fill ?? (slot.columns === undefined ? [] : [slot.columns.map(() => 0)])
    case 'formula':
      return '0'
    case 'choice':
      return slot.otherwise ?? Object.keys(slot.options)[0]
    case 'toggle':
      return false
    case 'name':
      return ''
    case 'part':
      return blankPart(slot.kinds[0]!)
    case 'parts':
      return {}
    default:
      return slot satisfies never
  }
}

/** 0 where that is allowed, else 1, else the middle of what is. */
function startingNumber(slot: NumberSlot): number {
  const { least = -Infinity, above = -Infinity, most = Infinity } = slot
  const lowest = Math.max(least, above)
  return [0, 1].find((value) => allows(slot, value)) ?? (most === Infinity ? lowest + 1 : (lowest + most) / 2)
}

function allows({ least = -Infinity, above = -Infinity, most = Infinity }: NumberSlot, value: number): boolean {
  return value >= least && value > above && value <= most
}
