import { choice, number, vector } from '../kinds'
import type { Kind } from '../kinds'

/** A rigid part of a machine. Shape and size are for drawing only; what moves is said by mass and inertia. */
export const body = {
  name: 'body',
  says: 'weighs {mass}, its centre of mass at {at}',
  about: 'A rigid part, fixed in the machine. Inertia is about its own centre of mass, along the axes of the machine.',
  slots: {
    mass: number({ label: 'mass', unit: 'kg', least: 0 }),
    at: vector({ label: 'centre of mass', unit: 'm', components: ['x', 'y', 'z'] }),
    inertia: vector({
      label: 'inertia',
      unit: 'kg·m²',
      components: ['xx', 'yy', 'zz', 'xy', 'xz', 'yz'],
      note: 'the entries of the matrix, so products with their sign as in the matrix',
    }),
    shape: choice({
      label: 'shape',
      options: { hull: 'hexagonal hull', arms: 'arms', box: 'box', skids: 'skids', none: 'not drawn' },
    }),
    size: vector({ label: 'size', unit: 'm', components: ['x', 'y', 'z'] }),
  },
} as const satisfies Kind
