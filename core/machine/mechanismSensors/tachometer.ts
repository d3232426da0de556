import { coordinateSlot } from '../effects/slots'
import { defineSensor, errorSlots } from './sensor'

/** The speed of a joint. */
export const tachometer = defineSensor({
  name: 'tachometer',
  label: 'tachometer',
  says: 'A tachometer reads the speed of {joint} {rate#} times a second.',
  about: 'Speed of a joint.',
  slots: { joint: coordinateSlot, ...errorSlots },
  ofJoint: true,
  measures: ({ joint }, look) => [look.rateOf(joint)],
  readings: () => [{ name: '', label: 'speed', unit: '/s' }],
  reads: (sight, part) => [sight.coordinate(part.joint).speed],
})
