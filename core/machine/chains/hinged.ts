import { applied, cross, dot, scaled } from '../../algebra'
import type { Vector } from '../../algebra'
import type { Part } from '../../document'
import { betweenSlots } from '../effects/slots'
import { axisSlot } from '../joints/slots'
import { meeting, pointView, squareRow } from './points'
import { defineChain } from './chain'

/** A hinge that closes a chain: the points are one, and the axis of one body is the axis of the other. */
export const hinged = defineChain({
  name: 'hinged',
  label: 'is hinged to',
  says: '{from} is hinged to {to} about {axis}.',
  about:
    'Five equations: the points are one, and two directions across the axis on the first body stay square to the axis on the second. In a flat chain three of them say the same as others; they are found and left out.',
  slots: { ...betweenSlots, axis: axisSlot('axis on the first'), toAxis: axisSlot('axis on the second') },
  rows: (scene, part) => {
    const [from, to] = [scene.body(part.from), scene.body(part.to)]
    const axis = applied(to.pose.rotation, unit(part, 'toAxis'))
    const across = acrossAxis(unit(part, 'axis')).map((direction) => applied(from.pose.rotation, direction))
    return [
      ...meeting(pointView(from, scene.vector('fromAt')), pointView(to, scene.vector('toAt'))),
      ...across.map((direction) => squareRow(from, direction, to, axis)),
    ]
  },
})

function unit(part: Part, slot: string): Vector {
  const given = part[slot] as readonly [number, number, number]
  return scaled(given, 1 / Math.sqrt(given[0] ** 2 + given[1] ** 2 + given[2] ** 2))
}

/** Two unit vectors square to a unit vector of numbers. */
function acrossAxis(axis: Vector): [Vector, Vector] {
  const [x, , z] = axis as readonly [number, number, number]
  const start: Vector = Math.abs(z) < 0.9 ? [0, 0, 1] : Math.abs(x) < 0.9 ? [1, 0, 0] : [0, 1, 0]
  const first = cross(axis, start)
  const length = Math.sqrt(dot(first, first) as number)
  const one = scaled(first, 1 / length)
  return [one, cross(axis, one)]
}
