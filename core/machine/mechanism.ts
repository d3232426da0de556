import { number, parts } from '../kinds'
import type { Kind } from '../kinds'
import { linkedBody } from './linkedBody'

/** Bodies on joints, from ground upward. */
export const mechanism = {
  name: 'mechanism',
  says: 'is built of bodies on joints',
  about:
    'Rigid bodies on joints, from ground upward. Equations of motion by the methods of Featherstone, Rigid Body Dynamics Algorithms, 2008.',
  slots: {
    gravity: number({ label: 'gravity', unit: 'm/s²', least: 0, otherwise: 9.80665, note: 'along -z of the world' }),
    bodies: parts({ label: 'bodies', kinds: [linkedBody] }),
  },
} as const satisfies Kind
