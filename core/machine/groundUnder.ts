import type { Part } from '../document'
import { assemble } from './assemble'
import { isGrounded } from './isGrounded'
import { numbersOf } from './numbers'
import { bodyPoses } from './tree'
import { World } from './world'

/** Heights of the ground of a machine, m, over places; of a deck that heaves, where it is at the start. */
export function groundUnder(machine: Part): (x: number, y: number) => number {
  const read = numbersOf(machine)
  const assembly = assemble(machine, read)
  const state = { q: assembly.start, speeds: assembly.speeds.map(() => 0) }
  const poses = bodyPoses(assembly.tree, assembly.start)
  const { ground } = new World(machine, read, new Set(), assembly, state, poses, 0).scene('', { kind: '' }, [], 0)
  return (x, y) => ground(x, y).height as number
}

/** m: how high its ground lies under the origin; 0 where a machine says nothing of one. */
export function groundLevel(machine: Part): number {
  return isGrounded(machine) ? groundUnder(machine)(0, 0) : 0
}
