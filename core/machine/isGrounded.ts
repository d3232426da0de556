import type { Part } from '../document'
import { findKind } from '../kinds'
import { surroundings } from './surroundings'

/** Whether a machine says anything of a ground: by its surroundings, or by what touches it. */
export function isGrounded(machine: Part): boolean {
  const outside = Object.values((machine.surroundings ?? {}) as Record<string, Part>)
  const touching = Object.values((machine.forces ?? {}) as Record<string, Part>)
  return (
    outside.some((part) => findKind(surroundings, part)?.ground !== undefined) ||
    touching.some(({ kind }) => /contact$/i.test(kind))
  )
}
