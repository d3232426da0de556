import { cos, sin } from '../../expression'
import { origin, turnAbout } from '../../algebra'
import { number } from '../../kinds'
import { axisSlot, placeSlots } from './slots'
import { defineJoint } from './joint'

/** One turn about an axis. Featherstone, Rigid Body Dynamics Algorithms, 2008, table 4.1: revolute. */
export const turning = defineJoint({
  name: 'turning',
  label: 'turns on',
  says: 'turns on {on} about {axis}',
  about: 'One angle about an axis fixed in both bodies. Featherstone, Rigid Body Dynamics Algorithms, 2008, table 4.1.',
  slots: { ...placeSlots, axis: axisSlot('axis'), start: number({ label: 'position at the start', unit: 'rad', otherwise: 0 }) },
  positions: [{ name: 'angle', unit: 'rad', angle: 'countsTurns' }],
  speeds: [{ name: 'rate', unit: 'rad/s' }],
  goInPairs: true,
  rest: [0],
  axes: ['axis'],
  motion: ({ axis }) => ({
    pose: ([angle]) => ({ rotation: turnAbout(axis!, cos(angle!), sin(angle!)), position: origin }),
    subspace: () => [{ angular: axis!, linear: origin }],
    rates: (_q, speeds) => speeds,
  }),
})
