import { assert } from '../document'
import type { Part } from '../document'
import { everyNumber } from '../kinds'
import { machineKinds } from './machineKinds'
import type { Read } from './read'

/** Reads the numbers of the document themselves. */
export function numbersOf(machine: Part): Read {
  const left = new Map(everyNumber(machineKinds, machine).map(({ path, value }) => [path, value]))
  return (path) => {
    const value = left.get(path)
    assert(value !== undefined, `The machine has no number at ${path}.`)
    return value
  }
}
