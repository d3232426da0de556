import { number, part, parts } from '../kinds'
import type { Kind } from '../kinds'
import { body } from './body'
import { rotorRing } from './rotorRing'
import { sensors } from './sensors'

/** One rigid machine of several parts, free to move, carried by rotors. */
export const floatingBody = {
  name: 'floatingBody',
  says: 'floats free of ground and carries {rotors.count} rotors',
  about:
    'A rigid body of six freedoms: the parts are composed to one mass, centre and inertia. Newton and Euler about the centre of mass, attitude as a unit quaternion. Air resists the velocity of the centre of mass in proportion.',
  slots: {
    gravity: number({ label: 'gravity', unit: 'm/s²', least: 0, otherwise: 9.80665 }),
    ground: number({ label: 'level of the ground', unit: 'm', otherwise: 0, note: 'below where heights count from' }),
    drag: number({ label: 'drag', unit: 'N·s/m', least: 0, otherwise: 0 }),
    load: number({
      label: 'load carried',
      unit: '',
      least: 0,
      most: 5,
      otherwise: 0,
      note: 'a point mass at the centre of mass, as a share of the total mass',
    }),
    bodies: parts({ label: 'bodies', kinds: [body] }),
    rotors: part({ label: 'rotors', kinds: [rotorRing] }),
    sensors: parts({ label: 'sensors', kinds: sensors }),
  },
} as const satisfies Kind
