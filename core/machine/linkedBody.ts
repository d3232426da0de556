import { partsIn } from '../document'
import type { Part } from '../document'
import { name, number, part, parts, vector } from '../kinds'
import type { Kind, PartOf } from '../kinds'
import { joints } from './joints'
import { shapes } from './shapes'

/** One rigid body of a mechanism. Its frame is the far frame of the joint that it hangs on. */
export const linkedBody = {
  name: 'linkedBody',
  says: '{joint}',
  about:
    'A rigid body and the joint it hangs on. Its axes are those of the joint after its motion; centre and inertia are given in them.',
  slots: {
    title: name({ label: 'title', of: 'text', optional: true }),
    mass: number({ label: 'mass', unit: 'kg', least: 0 }),
    centre: vector({ label: 'centre of mass', unit: 'm', components: ['x', 'y', 'z'] }),
    inertia: vector({
      label: 'inertia',
      unit: 'kg·m²',
      components: ['xx', 'yy', 'zz', 'xy', 'xz', 'yz'],
      note: 'about the centre of mass; products are entries of the matrix, so xy is minus the integral of xy',
    }),
    joint: part({ label: 'joint', kinds: joints }),
    shapes: parts({ label: 'shapes', kinds: shapes, optional: true }),
  },
} as const satisfies Kind

export type LinkedBody = PartOf<typeof linkedBody>

/** The bodies of a machine, by name; none of one without. */
export function bodiesOf(machine: Part): Readonly<Record<string, LinkedBody>> {
  return partsIn(machine.bodies) as Readonly<Record<string, LinkedBody>>
}
