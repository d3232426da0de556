import { cos, sin } from '../../expression'
import { origin, scaled, turnAbout } from '../../algebra'
import { axisSlot, placeSlots } from './slots'
import { defineJoint } from './joint'

/** A turn about and a travel along one axis. Featherstone, 2008, table 4.1: cylindrical. */
export const turningSliding = defineJoint({
  name: 'turningSliding',
  label: 'turns and slides on',
  says: 'turns and slides on {on} about {axis}',
  about: 'An angle about and a travel along one axis. Featherstone, Rigid Body Dynamics Algorithms, 2008, table 4.1.',
  slots: { ...placeSlots, axis: axisSlot('axis') },
  positions: [
    { name: 'angle', unit: 'rad', angle: 'countsTurns' },
    { name: 'travel', unit: 'm' },
  ],
  speeds: [
    { name: 'angleRate', unit: 'rad/s' },
    { name: 'travelRate', unit: 'm/s' },
  ],
  goInPairs: true,
  rest: [0, 0],
  axes: ['axis'],
  motion: ({ axis }) => ({
    pose: ([angle, travel]) => ({ rotation: turnAbout(axis!, cos(angle!), sin(angle!)), position: scaled(axis!, travel!) }),
    subspace: () => [
      { angular: axis!, linear: origin },
      { angular: origin, linear: axis! },
    ],
    rates: (_q, speeds) => speeds,
  }),
})
