import { coordinateSlot } from '../effects/slots'
import { defineSensor, errorSlots } from './sensor'

/** The position of a joint. */
export const encoder = defineSensor({
  name: 'encoder',
  label: 'encoder',
  says: 'An encoder reads the position of {joint} {rate#} times a second, in steps of {resolution}.',
  about: 'Position of a joint; an encoder of N counts a turn has a resolution of 2π/N rad.',
  slots: { joint: coordinateSlot, ...errorSlots },
  ofJoint: true,
  measures: ({ joint }) => [joint],
  readings: () => [{ name: '', label: 'position', unit: '' }],
  reads: (sight, part) => [sight.coordinate(part.joint).position],
})
