import { origin, scaled, unrotated } from '../../algebra'
import { number } from '../../kinds'
import { axisSlot, placeSlots } from './slots'
import { defineJoint } from './joint'

/** One travel along an axis. Featherstone, 2008, table 4.1: prismatic. */
export const sliding = defineJoint({
  name: 'sliding',
  label: 'slides on',
  says: 'slides on {on} along {axis}',
  about: 'One travel along an axis fixed in both bodies. Featherstone, Rigid Body Dynamics Algorithms, 2008, table 4.1.',
  slots: { ...placeSlots, axis: axisSlot('axis'), start: number({ label: 'position at the start', unit: 'm', otherwise: 0 }) },
  positions: [{ name: 'travel', unit: 'm' }],
  speeds: [{ name: 'rate', unit: 'm/s' }],
  goInPairs: true,
  rest: [0],
  axes: ['axis'],
  motion: ({ axis }) => ({
    pose: ([travel]) => ({ rotation: unrotated, position: scaled(axis!, travel!) }),
    subspace: () => [{ angular: origin, linear: axis! }],
    rates: (_q, speeds) => speeds,
  }),
})
