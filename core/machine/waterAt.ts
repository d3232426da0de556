import { Graph, loadModule, printWasm, set } from '../expression'
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
  // compiled, since it is asked at thousands of places for one picture
  const graph = new Graph()
  const [x, y, time] = [graph.slot(0), graph.slot(1), graph.slot(2)]
  const around = { time, gravity: machine.gravity as number }
  const { height } = water!(outsideOf(part, `surroundings.${name}`, numbersOf(machine), around), x, y)
  if (typeof height === 'number') return () => height
  const loaded = loadModule(printWasm({ slots: 4, procedures: [{ name: 'height', body: [set(3, height)] }] }))
  const memory = loaded.memory()
  return (...at) => {
    memory.set(at)
    loaded.call('height')
    return memory[3]!
  }
}
