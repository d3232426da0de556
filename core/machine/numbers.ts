import { assert } from '../document'
import type { Part } from '../document'
import { everyNumber } from '../kinds'
import type { NumberPlace } from '../kinds'
import { machineKinds } from './machineKinds'
import type { Read } from './read'

/** By machine, which nobody changes in place. */
const known = new WeakMap<Part, Read>()
const places = new WeakMap<Part, readonly NumberPlace[]>()

/** Every number of a machine, with its place and its words. */
export function machineNumbers(machine: Part): readonly NumberPlace[] {
  const before = places.get(machine)
  if (before !== undefined) return before
  const found = everyNumber(machineKinds, machine)
  places.set(machine, found)
  return found
}

/** Reads the numbers of the document themselves: the same reader for the same machine. */
export function numbersOf(machine: Part): Read {
  const before = known.get(machine)
  if (before !== undefined) return before
  const numbers = new Map(machineNumbers(machine).map(({ path, value }) => [path, value]))
  const read: Read = (path) => {
    const value = numbers.get(path)
    assert(value !== undefined, `The machine has no number at ${path}.`)
    return value
  }
  known.set(machine, read)
  return read
}
