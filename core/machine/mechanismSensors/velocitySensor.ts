import { applied, minus, transposedRows } from '../../algebra'
import { choice, name, vector } from '../../kinds'
import { defineSensor, errorSlots } from './sensor'

/** How a point of a body goes along the axes of the body: a log, a Doppler sensor, or probes in the air. */
export const velocitySensor = defineSensor({
  name: 'velocitySensor',
  label: 'velocity sensor',
  says: 'A sensor on {body} measures its velocity {through} along its own axes {rate#} times a second.',
  about:
    'Velocity of a point against ground or against the wind there, along x, y and z of its body, as a reading of its velocity gives it; each errs by itself.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
    through: choice({ label: 'against', options: { ground: 'over ground', air: 'through the air' }, otherwise: 'ground' }),
    ...errorSlots,
  },
  measures: ({ body, at, through = 'ground' }, look) => {
    const isIt = (part: Readonly<Record<string, unknown>>) =>
      part.body === body && (part.through ?? 'ground') === through && JSON.stringify(part.at) === JSON.stringify(at)
    return ['ahead', 'left', 'up'].map((value) => look.reading('velocityReading', isIt, value))
  },
  readings: () => [
    { name: 'ahead', label: 'speed ahead', unit: 'm/s' },
    { name: 'left', label: 'speed to the left', unit: 'm/s' },
    { name: 'up', label: 'speed upward', unit: 'm/s' },
  ],
  reads: (sight, part) => {
    const body = part.body
    const { position, velocity } = sight.point(body, sight.vector('at'))
    const against = part.through === 'air' ? minus(velocity, sight.wind(position)) : velocity
    return applied(transposedRows(sight.axes(body)), against)
  },
})
