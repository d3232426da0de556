import type { Part } from '../document'

/** Mass of all bodies of a machine, kg; 0 without bodies. */
export function totalMass(machine: Part): number {
  const bodies = Object.values((machine.bodies ?? {}) as Readonly<Record<string, Part>>)
  return bodies.reduce((sum, { mass }) => sum + (mass as number), 0)
}
