import { partsIn } from '../document'
import type { Part } from '../document'
import { findKind } from '../kinds'
import { numbersOf } from './numbers'
import { surroundings } from './surroundings'
import { outsideOf } from './world'

/** m over the origin: the surface of the water around a machine at (x, y) and a time, s; nothing where it has none. */
export function waterAt(machine: Part): ((x: number, y: number, time: number) => number) | undefined {
  const [name, part] =
    Object.entries(partsIn(machine.surroundings)).find(([, one]) => findKind(surroundings, one)?.water !== undefined) ?? []
  if (name === undefined || part === undefined) return undefined
  const { water } = findKind(surroundings, part)!
  const read = numbersOf(machine)
  const gravity = machine.gravity as number
  return (x, y, time) => water!(outsideOf(part, `surroundings.${name}`, read, { time, gravity }), x, y).height as number
}
