import { name, vector } from '../../kinds'
import { alongAxes, defineSensor, errorSlots } from './sensor'

/** Specific force at a point of a body. */
export const accelerometer = defineSensor({
  name: 'accelerometer',
  label: 'accelerometer',
  says: 'An accelerometer on {body} reads three specific forces {rate#} times a second.',
  about: 'Acceleration of a point less gravity, in the axes of the body: a machine at rest reads +g upward.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
    ...errorSlots,
  },
  readings: () => alongAxes('specific force along', 'm/s²'),
  reads: (sight, part) => sight.specificForceInBody(part.body, sight.vector('at')),
})
