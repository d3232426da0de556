import { applied, minus, transposedRows } from '../../algebra'
import { choice } from '../../kinds'
import { ofBody } from './slots'
import { defineReading } from './reading'

/** How a point of a body is accelerated. */
export const accelerationReading = defineReading({
  name: 'accelerationReading',
  label: 'acceleration',
  says: 'The acceleration of {body} at {at}, along {along}.',
  about:
    'Second time derivative of the place of a point, gravity counted in. What a drive without lag pushes, it accelerates at once: no loop can hold that without a delay.',
  owner: 'body',
  slots: {
    ...ofBody,
    along: choice({ label: 'axes', options: { world: 'east, north and up', body: 'its own axes' }, otherwise: 'world' }),
  },
  values: ({ along }) =>
    along === 'body'
      ? [
          { name: 'ahead', label: 'acceleration ahead', unit: 'm/s²' },
          { name: 'left', label: 'acceleration to the left', unit: 'm/s²' },
          { name: 'up', label: 'acceleration upward', unit: 'm/s²' },
        ]
      : [
          { name: 'east', label: 'eastward acceleration', unit: 'm/s²' },
          { name: 'north', label: 'northward acceleration', unit: 'm/s²' },
          { name: 'up', label: 'upward acceleration', unit: 'm/s²' },
        ],
  reads: (view, part) => {
    const body = part.body
    const felt = view.specificForceInBody(body, view.vector('at'))
    const axes = view.axes(body)
    // an accelerometer feels all but gravity
    const own = minus(felt, applied(transposedRows(axes), minus([0, 0, 0], view.gravity)))
    return part.along === 'body' ? own : applied(axes, own)
  },
})
