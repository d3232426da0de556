import type { Part } from '../document'
import { partsIn, rememberedOf } from '../document'
import { name, partOf, parts } from '../kinds'
import type { Kind } from '../kinds'
import { condition, conditions, runsOn } from './condition'

/** An operating point beside the one that the machine's own conditions say. */
export const operatingPointKind = {
  name: 'operatingPoint',
  says: 'An operating point of its own.',
  about:
    'Conditions of an operating point beside those of the machine itself, which do not hold here: another flight, another speed, another place to rest. The machine may work at it, or a single loop be designed about it.',
  slots: { conditions: parts({ label: 'conditions', kinds: conditions, optional: true }) },
} as const satisfies Kind

/** The slots of a machine that say where it works. */
export const pointSlots = {
  conditions: parts({ label: 'conditions of the operating point', kinds: conditions, optional: true }),
  points: parts({ label: 'other operating points', kinds: [operatingPointKind], optional: true }),
  worksAt: name({ label: 'operating point', of: 'point', optional: true }),
} as const

/** Names of the operating points that a machine may work at, beside the one of its own conditions: `points.cruise`. */
export function pointNames(machine: Part): string[] {
  return Object.keys(partsIn(machine.points)).map((one) => `points.${one}`)
}

/** The part whose conditions are those of the point at which a machine works: the machine itself, or one of its points. */
export function workingPoint(machine: Part): Part {
  const at = machine.worksAt as string | undefined
  if (at === undefined || at === '') return machine
  return partsIn(machine.points)[at.replace(/^points\./, '')] ?? machine
}

/** By machine, which nobody changes in place. */
const moved = new WeakMap<Part, Map<string, Part>>()

/** The same machine as it works at another of its points; as it is where none is named. */
export function atPoint(machine: Part, point: string | undefined): Part {
  if (point === undefined || point === '' || point === machine.worksAt) return machine
  return rememberedOf(moved, machine, point, () => ({ ...machine, worksAt: point }))
}

export interface Fixed {
  readonly signal: string
  readonly value: number
}

function partsOf(machine: Part) {
  return Object.values(partsIn(workingPoint(machine).conditions))
}

/** What the conditions of a machine's operating point fix, in the order of the document. */
export function conditionsOf(machine: Part): Fixed[] {
  return partsOf(machine).flatMap((part) => {
    if (part.kind !== condition.name) return []
    const { signal, value } = partOf(condition, part)
    return [{ signal, value }]
  })
}

/** What they let run on. */
export function runningOf(machine: Part): string[] {
  return partsOf(machine).flatMap((part) => (part.kind === runsOn.name ? [partOf(runsOn, part).signal] : []))
}
