import { applied, attitude, minus, rowsTimes, tiltOf, transposedRows } from '../../algebra'
import { ground } from '../assemble'
import type { VectorComponent } from '../held'
import { fromBody, ofBody } from './slots'
import { defineReading } from './reading'

function tilt(component: 0 | 1, beside: string): VectorComponent {
  return { of: 'tilt', component, beside, attitude: ['roll', 'pitch', 'heading'] }
}

/** How a body is turned, and how fast it turns about its own axes. */
export const attitudeReading = defineReading({
  name: 'attitudeReading',
  label: 'attitude',
  says: 'The attitude of {body}, seen from {from}.',
  about:
    'Roll, pitch and heading are turns about z, then y, then x (the z-y-x sequence); the rates are those about its own axes, which are the time derivatives of the angles where it is level. Its tilt is one vector, the shortest turn from upright to where its z axis points, about east and about north whatever it heads: loops on the two make up for the error of the vector.',
  owner: 'body',
  slots: { body: ofBody.body, from: fromBody.from },
  values: () => [
    { name: 'roll', label: 'roll', unit: 'rad', rate: 'rollRate', angle: 'goesRound' },
    { name: 'pitch', label: 'pitch', unit: 'rad', rate: 'pitchRate', angle: 'goesRound' },
    { name: 'heading', label: 'heading', unit: 'rad', rate: 'yawRate', angle: 'goesRound' },
    { name: 'rollRate', label: 'roll rate', unit: 'rad/s' },
    { name: 'pitchRate', label: 'pitch rate', unit: 'rad/s' },
    { name: 'yawRate', label: 'yaw rate', unit: 'rad/s' },
    { name: 'tiltEast', label: 'tilt about east', unit: 'rad', rate: 'rollRate', vector: tilt(0, 'tiltNorth') },
    { name: 'tiltNorth', label: 'tilt about north', unit: 'rad', rate: 'pitchRate', vector: tilt(1, 'tiltEast') },
  ],
  reads: (view, part) => {
    const { body, from } = part
    const own = view.axes(body)
    const seen = from === ground ? own : rowsTimes(transposedRows(view.axes(from)), own)
    const { roll, pitch, heading } = attitude(seen)
    const turning = minus(view.turning(body), view.turning(from))
    const [[, , x], [, , y], [, , z]] = seen
    return [roll, pitch, heading, ...applied(transposedRows(own), turning), ...tiltOf([x, y, z])]
  },
})
