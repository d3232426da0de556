import { name, vector } from '../../kinds'
import { placeWanted } from './look'
import { alongAxes, defineSensor, errorSlots } from './sensor'

/** Where a point of a body is in the world. */
export const positionFix = defineSensor({
  name: 'positionFix',
  label: 'position fix',
  says: 'A receiver on {body} fixes its position {rate#} times a second, {delay} late.',
  about: 'Position of a point in world axes.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
    ...errorSlots,
  },
  measures: ({ body, at }, look) => ['east', 'north', 'height'].map((value) => look.reading(...placeWanted(body, at), value)),
  readings: () => alongAxes('position along', 'm'),
  reads: (sight, part) => sight.point(part.body, sight.vector('at')).position,
})
