import type { Part } from '../document'
import { bodiesOf } from './linkedBody'

/** Mass of all bodies of a machine, kg; 0 without bodies. */
export function totalMass(machine: Part): number {
  const bodies = Object.values(bodiesOf(machine))
  return bodies.reduce((sum, { mass }) => sum + mass, 0)
}
