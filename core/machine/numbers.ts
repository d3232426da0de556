import { assert, rememberedOf } from '../document'
import type { Part } from '../document'
import { everyNumber } from '../kinds'
import type { NumberPlace } from '../kinds'
import { machineKinds } from './machineKinds'
import type { Read } from './read'

/** By machine, which nobody changes in place. */
const readers = new WeakMap<Part, Map<string, Read>>()
const places = new WeakMap<Part, Map<string, readonly NumberPlace[]>>()

/** Every number of a machine, with its place and its words. */
export function machineNumbers(machine: Part): readonly NumberPlace[] {
  return rememberedOf(places, machine, '', () => everyNumber(machineKinds, machine))
}

/** Reads the numbers of the document themselves: the same reader for the same machine. */
export function numbersOf(machine: Part): Read {
  return rememberedOf(readers, machine, '', () => {
    const numbers = new Map(machineNumbers(machine).map(({ path, value }) => [path, value]))
    return (path) => {
      const value = numbers.get(path)
      assert(value !== undefined, `The machine has no number at ${path}.`)
      return value
    }
  })
}
