import type { Scalar } from '../expression'
import type { Vector } from '../algebra'
import { findAt } from '../document'
import type { Part } from '../document'

/** Gives the value at a path inside a machine: a number, or the memory slot that will hold it. */
export type Read = (path: string) => Scalar

/** The three numbers of a vector at a path. */
export function readVector(read: Read, path: string): Vector {
  return [read(`${path}.0`), read(`${path}.1`), read(`${path}.2`)]
}

/** Names of the parts in one of a machine's groups. */
export function partNames(machine: Part, group: 'bodies' | 'sensors'): string[] {
  return Object.keys((findAt(machine, group) as Record<string, Part> | undefined) ?? {})
}
