import { applied, origin, quaternionRate, rotation, unrotated } from '../../algebra'
import type { Quaternion, Vector } from '../../algebra'
import { placeSlots } from './slots'
import { defineJoint } from './joint'

/** No bond: position and attitude. Speeds in body axes, turning first, as Featherstone's floating base, 2008, table 4.1. */
export const free = defineJoint({
  name: 'free',
  label: 'is free of',
  says: 'moves freely over {on}',
  about:
    'Six freedoms: attitude as a unit quaternion, position; angular and linear speed in body axes. Featherstone, Rigid Body Dynamics Algorithms, 2008, table 4.1.',
  slots: { ...placeSlots },
  positions: [
    ...['w', 'x', 'y', 'z'].map((name) => ({ name: `attitude.${name}`, unit: '' })),
    ...['x', 'y', 'z'].map((name) => ({ name, unit: 'm' })),
  ],
  speeds: [
    ...['wx', 'wy', 'wz'].map((name) => ({ name, unit: 'rad/s' })),
    ...['vx', 'vy', 'vz'].map((name) => ({ name, unit: 'm/s' })),
  ],
  goInPairs: false,
  hasAttitude: true,
  rest: [1, 0, 0, 0, 0, 0, 0],
  axes: [],
  motion: () => ({
    pose: (q) => ({ rotation: rotation(q.slice(0, 4) as unknown as Quaternion), position: q.slice(4) as unknown as Vector }),
    subspace: () => [
      ...unrotated.map((angular) => ({ angular, linear: origin })),
      ...unrotated.map((linear) => ({ angular: origin, linear })),
    ],
    rates: (q, speeds) => {
      const attitude = q.slice(0, 4) as unknown as Quaternion
      return [
        ...quaternionRate(attitude, speeds.slice(0, 3) as unknown as Vector),
        ...applied(rotation(attitude), speeds.slice(3) as unknown as Vector),
      ]
    },
  }),
})
