import { name } from '../../kinds'
import { attitudeWanted } from './look'
import { alongAxes, defineSensor, errorSlots } from './sensor'

/** Angular velocity of a body in its own axes. */
export const gyroscope = defineSensor({
  name: 'gyroscope',
  label: 'gyroscope',
  says: 'A gyroscope on {body} reads its three rates {rate#} times a second.',
  about: 'Angular velocity of a body against the world, in the axes of the body.',
  slots: { body: name({ label: 'body', of: 'body' }), ...errorSlots },
  measures: ({ body }, look) => ['rollRate', 'pitchRate', 'yawRate'].map((value) => look.reading(...attitudeWanted(body), value)),
  readings: () => alongAxes('rate about', 'rad/s'),
  reads: (sight, part) => sight.turningInBody(part.body),
})
