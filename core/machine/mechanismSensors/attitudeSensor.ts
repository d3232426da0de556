import { attitude } from '../../algebra'
import { name } from '../../kinds'
import { attitudeWanted } from './look'
import { defineSensor, errorSlots } from './sensor'

/** How a body is turned against the world. */
export const attitudeSensor = defineSensor({
  name: 'attitudeSensor',
  label: 'attitude sensor',
  says: 'An attitude sensor on {body} reads roll, pitch and heading {rate#} times a second.',
  about:
    'Turns about z, then y, then x of a body against the world, as a reading of its attitude gives them; each errs by itself.',
  slots: { body: name({ label: 'body', of: 'body' }), ...errorSlots },
  measures: ({ body }, look) => ['roll', 'pitch', 'heading'].map((value) => look.reading(...attitudeWanted(body), value)),
  readings: () => ['roll', 'pitch', 'heading'].map((label) => ({ name: label, label, unit: 'rad' })),
  reads: (sight, part) => {
    const { roll, pitch, heading } = attitude(sight.axes(part.body))
    return [roll, pitch, heading]
  },
})
