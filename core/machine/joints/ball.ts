import { origin, quaternionRate, rotation, unrotated } from '../../algebra'
import type { Quaternion, Vector } from '../../algebra'
import { placeSlots } from './slots'
import { defineJoint } from './joint'

/** Any turn about a point, as a unit quaternion. Featherstone, 2008, table 4.1: spherical. */
export const ball = defineJoint({
  name: 'ball',
  label: 'turns about a point on',
  says: 'turns freely about a point on {on}',
  about: 'Three turns as a unit quaternion, speeds in body axes. Featherstone, Rigid Body Dynamics Algorithms, 2008, table 4.1.',
  slots: { ...placeSlots },
  positions: ['w', 'x', 'y', 'z'].map((name) => ({ name, unit: '' })),
  speeds: ['x', 'y', 'z'].map((name) => ({ name: `${name}Rate`, unit: 'rad/s' })),
  goInPairs: false,
  hasAttitude: true,
  rest: [1, 0, 0, 0],
  axes: [],
  motion: () => ({
    pose: (q) => ({ rotation: rotation(q as unknown as Quaternion), position: origin }),
    subspace: () => unrotated.map((angular) => ({ angular, linear: origin })),
    rates: (q, speeds) => quaternionRate(q as unknown as Quaternion, speeds as unknown as Vector),
  }),
})
