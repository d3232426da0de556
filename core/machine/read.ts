import type { Scalar } from '../expression'
import { assert, findAt } from '../document'
import type { Part } from '../document'
import { everyNumber } from '../kinds'
import { floatingBody } from './floatingBodyKind'

/** Gives the value at a path inside a machine: a number, or the memory slot that will hold it. */
export type Read = (path: string) => Scalar

/** Reads the numbers of the document themselves. */
export function numbersOf(machine: Part): Read {
  const left = new Map(everyNumber([floatingBody], machine).map(({ path, value }) => [path, value]))
  return (path) => {
    const value = left.get(path)
    assert(value !== undefined, `The machine has no number at ${path}.`)
    return value
  }
}

/** Names of the parts in one of a machine's groups. */
export function partNames(machine: Part, group: 'bodies' | 'sensors'): string[] {
  return Object.keys((findAt(machine, group) as Record<string, Part> | undefined) ?? {})
}
