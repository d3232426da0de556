import { sqrt } from '../../expression'
import { applied, dividedBy, dot, transposedRows } from '../../algebra'
import { name, vector } from '../../kinds'
import { alongAxes, defineSensor, errorSlots } from './sensor'

/** Where something far away is seen from a body: a star, the sun, north of a compass. */
export const directionSensor = defineSensor({
  name: 'directionSensor',
  label: 'direction sensor',
  says: 'A sensor on {body} sees the direction {towards} of the world {rate#} times a second.',
  about: 'A direction of the world, of length 1, in the axes of the body: that of a star, or of the sun.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    towards: vector({ label: 'direction', unit: '', components: ['x', 'y', 'z'], fill: [1, 0, 0] }),
    ...errorSlots,
  },
  readings: () => alongAxes('direction along', ''),
  reads: (sight, part) => {
    const given = sight.vector('towards')
    return applied(transposedRows(sight.axes(part.body)), dividedBy(given, sqrt(dot(given, given))))
  },
})
