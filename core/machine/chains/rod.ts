import { add, div, mul, sqrt, square, sub, sum } from '../../expression'
import { dot, minus, scaled } from '../../algebra'
import { betweenSlots, positive } from '../effects/slots'
import { pointView, pullApart } from './points'
import { defineChain } from './chain'

/** Two points stay at a distance: a rod without mass, hinged at both ends. */
export const rod = defineChain({
  name: 'rod',
  label: 'is held by a rod from',
  says: 'A rod of {length} holds {from} and {to} apart.',
  about: "One equation: the distance of the points is the rod's length.",
  slots: { ...betweenSlots, length: positive('length', 'm') },
  rows: (scene, part) => {
    const a = pointView(scene.body(part.from), scene.vector('fromAt'))
    const b = pointView(scene.body(part.to), scene.vector('toAt'))
    const across = minus(a.position, b.position)
    const velocity = minus(a.velocity, b.velocity)
    const length = sqrt(sum(across.map((component) => square(component))))
    const along = scaled(across, div(1, length))
    const rate = dot(along, velocity)
    const sideways = div(sub(dot(velocity, velocity), mul(rate, rate)), length)
    return [
      {
        gap: sub(length, scene.number('length')),
        rate,
        jacobian: a.columns.map((column, i) => dot(along, minus(column, b.columns[i]!))),
        bias: add(dot(along, minus(a.bias, b.bias)), sideways),
        unit: 'm',
        acts: pullApart(a, b, along),
      },
    ]
  },
})
