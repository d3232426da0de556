import { coordinateSlot } from '../effects/slots'
import { errorSlots } from './sensor'
import type { SensorKind } from './sensor'

/** The position of a joint. */
export const encoder: SensorKind = {
  name: 'encoder',
  label: 'encoder',
  says: 'An encoder reads the position of {joint} {rate#} times a second, in steps of {resolution}.',
  about: 'Position of a joint; an encoder of N counts a turn has a resolution of 2π/N rad.',
  slots: { joint: coordinateSlot, ...errorSlots },
  ofJoint: true,
  measures: ({ joint }) => [joint as string],
  readings: () => [{ name: '', label: 'position', unit: '' }],
  reads: (sight, part) => [sight.coordinate(part.joint as string).position],
}
