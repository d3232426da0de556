import { partsIn } from '../document'
import type { Part } from '../document'
import { findKind } from '../kinds'
import { effects } from './effects'
import { surroundings } from './surroundings'

/** Whether a machine says anything of a ground: by its surroundings, or by what touches it. */
export function isGrounded(machine: Part): boolean {
  const outside = Object.values(partsIn(machine.surroundings))
  const touching = Object.values(partsIn(machine.forces))
  return (
    outside.some((part) => findKind(surroundings, part)?.ground !== undefined) ||
    touching.some((part) => findKind(effects, part)?.foot !== undefined)
  )
}
