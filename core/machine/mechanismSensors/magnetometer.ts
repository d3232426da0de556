import { applied, transposedRows } from '../../algebra'
import { name, vector } from '../../kinds'
import { alongAxes, defineSensor, errorSlots } from './sensor'

/** The magnetic field in the axes of a body. */
export const magnetometer = defineSensor({
  name: 'magnetometer',
  label: 'magnetometer',
  says: 'A magnetometer on {body} reads the field {field} {rate#} times a second.',
  about: 'An even magnetic field of the world in the axes of the body.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    field: vector({ label: 'field', unit: 'T', components: ['x', 'y', 'z'], fill: [0, 1.7e-5, -4.6e-5] }),
    ...errorSlots,
  },
  readings: () => alongAxes('field along', 'T'),
  reads: (sight, part) => applied(transposedRows(sight.axes(part.body)), sight.vector('field')),
})
