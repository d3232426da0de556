import type { Part } from '../document'
import type { AnyKind, Slot } from './slot'

/**
 * A part of a kind with every slot filled: what `given` has and fits is kept, the rest starts with a value that the
 * schema takes. Names stay empty unless given.
 */
export function blankPart(kind: AnyKind, given: Readonly<Record<string, unknown>> = {}): Part {
  const filled = Object.entries(kind.slots)
    .filter(([name, slot]) => name in given || !isOptional(slot))
    .map(([name, slot]) => [name, given[name] ?? blank(slot)])
  return { ...given, kind: kind.name, ...Object.fromEntries(filled) }
}

function isOptional(slot: Slot): boolean {
  return 'optional' in slot && slot.optional === true
}

function blank(slot: Slot): unknown {
  switch (slot.type) {
    case 'number':
      return slot.otherwise ?? startingNumber(slot.least, slot.above, slot.most)
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
function startingNumber(least = -Infinity, above = -Infinity, most = Infinity): number {
  const fits = (value: number) => value >= least && value > above && value <= most
  const lowest = Math.max(least, above)
  return [0, 1].find(fits) ?? (most === Infinity ? lowest + 1 : (lowest + most) / 2)
}
