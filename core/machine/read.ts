import type { Scalar } from '../expression'
import { findAt } from '../document'
import type { Part } from '../document'

/** Gives the value at a path inside a machine: a number, or the memory slot that will hold it. */
export type Read = (path: string) => Scalar

/** Names of the parts in one of a machine's groups. */
export function partNames(machine: Part, group: 'bodies' | 'sensors'): string[] {
  return Object.keys((findAt(machine, group) as Record<string, Part> | undefined) ?? {})
}
