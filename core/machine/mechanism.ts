import { number, parts } from '../kinds'
import type { Kind } from '../kinds'
import { chains } from './chains'
import { constant } from './constant'
import { expectations } from './expectation'
import { drives, forces } from './effects'
import { linkedBody } from './linkedBody'
import { mechanismSensors } from './mechanismSensors'
import { motion } from './motion'
import { allocations } from './pushes/allocations'
import { pointSlots } from './points'
import { pushes } from './pushes/list'
import { readings } from './readings'
import { surroundings } from './surroundings'

/** Bodies on joints, from ground upward. */
export const mechanism = {
  name: 'mechanism',
  says: 'is built of bodies on joints',
  about:
    'Rigid bodies on joints, from ground upward; chains close by constraints, of which those that say the same twice are left out. Equations of motion by the methods of Featherstone, Rigid Body Dynamics Algorithms, 2008.',
  slots: {
    gravity: number({ label: 'gravity', unit: 'm/s²', least: 0, otherwise: 9.80665, note: 'along -z of the world' }),
    bodies: parts({ label: 'bodies', kinds: [linkedBody] }),
    chains: parts({ label: 'chains', kinds: chains, optional: true }),
    forces: parts({ label: 'forces', kinds: forces, optional: true }),
    drives: parts({ label: 'drives', kinds: drives, optional: true }),
    pushes: parts({ label: 'pushes', kinds: pushes, optional: true }),
    allocations: parts({ label: 'allocation', kinds: allocations, optional: true }),
    readings: parts({ label: 'readings', kinds: readings, optional: true }),
    sensors: parts({ label: 'sensors', kinds: mechanismSensors, optional: true }),
    surroundings: parts({ label: 'surroundings', kinds: surroundings, optional: true }),
    ...pointSlots,
    expectations: parts({ label: 'expectations', kinds: expectations, optional: true }),
    motions: parts({ label: 'motions', kinds: [motion], optional: true }),
    constants: parts({ label: 'constants', kinds: [constant], optional: true }),
  },
} as const satisfies Kind
