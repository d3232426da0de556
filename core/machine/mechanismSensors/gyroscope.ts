import { name } from '../../kinds'
import { errorSlots } from './sensor'
import type { SensorKind } from './sensor'

/** Angular velocity of a body in its own axes. */
export const gyroscope: SensorKind = {
  name: 'gyroscope',
  label: 'gyroscope',
  says: 'A gyroscope on {body} reads its three rates {rate#} times a second.',
  about: 'Angular velocity of a body against the world, in the axes of the body.',
  slots: { body: name({ label: 'body', of: 'body' }), ...errorSlots },
  reads: (sight, part) =>
    sight.turningInBody(part.body as string).map((value, i) => {
      const axis = 'xyz'[i]!
      return { name: axis, label: `rate about ${axis}`, unit: 'rad/s', value }
    }),
}
