import { add, atan2, sqrt, square, sum } from '../../expression'
import { applied, minus, transposedRows } from '../../algebra'
import { choice } from '../../kinds'
import { ofBody } from './slots'
import { defineReading } from './reading'

/** How a point of a body goes along the body's own axes, over ground or through the air. */
export const velocityReading = defineReading({
  name: 'velocityReading',
  label: 'velocity along its own axes',
  says: 'The velocity of {body} at {at} {through}, along its own axes.',
  about:
    'Velocity of a point against ground or against the wind there, along x, y and z of its body, and how large it is. Its course is the direction of its way over ground, turning left from east; neither size nor course has a slope where it stands still.',
  owner: 'body',
  slots: {
    ...ofBody,
    through: choice({ label: 'against', options: { ground: 'over ground', air: 'through the air' }, otherwise: 'ground' }),
  },
  values: ({ through }) => [
    { name: 'ahead', label: 'speed ahead', unit: 'm/s' },
    { name: 'left', label: 'speed to the left', unit: 'm/s' },
    { name: 'up', label: 'speed upward', unit: 'm/s' },
    ...(through === 'air'
      ? [{ name: 'speed', label: 'speed through the air', unit: 'm/s' }]
      : [
          { name: 'speed', label: 'speed over ground', unit: 'm/s' },
          { name: 'course', label: 'course', unit: 'rad', angle: 'goesRound' as const },
        ]),
  ],
  reads: (view, part) => {
    const body = part.body
    const { position, velocity } = view.point(body, view.vector('at'))
    const throughAir = part.through === 'air'
    const against = throughAir ? minus(velocity, view.wind(position)) : velocity
    const own = applied(transposedRows(view.axes(body)), against)
    const [x, y] = against
    return throughAir
      ? [...own, sqrt(sum(against.map((value) => square(value))))]
      : [...own, sqrt(add(square(x), square(y))), atan2(y, x)]
  },
})
