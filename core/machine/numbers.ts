import { assert } from '../document'
import type { Part } from '../document'
import { everyNumber } from '../kinds'
import { machineKinds } from './machineKinds'
import type { Read } from './read'

/** By machine, which nobody changes in place. */
const known = new WeakMap<Part, ReadonlyMap<string, number>>()

/** Reads the numbers of the document themselves. */
export function numbersOf(machine: Part): Read {
  const left = known.get(machine) ?? new Map(everyNumber(machineKinds, machine).map(({ path, value }) => [path, value]))
  known.set(machine, left)
  return (path) => {
    const value = left.get(path)
    assert(value !== undefined, `The machine has no number at ${path}.`)
    return value
  }
}
