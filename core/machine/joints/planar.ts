import { add, cos, mul, sin, sub } from '../../expression'
import { cross, origin, plus, scaled, turnAbout } from '../../algebra'
import type { Vector } from '../../algebra'
import { axisSlot, placeSlots } from './slots'
import { defineJoint } from './joint'

/** Two travels in a plane and a turn about its normal. Speeds in body axes, so that S is constant. */
export const planar = defineJoint({
  name: 'planar',
  label: 'glides on',
  says: 'glides on {on} in the plane across {axis}',
  about:
    "Travels x and y in a plane and a turn about its normal; x is the joint's own x, laid into the plane. Speeds in body axes. Featherstone, Rigid Body Dynamics Algorithms, 2008, table 4.1.",
  slots: { ...placeSlots, axis: axisSlot('normal') },
  positions: [
    { name: 'x', unit: 'm' },
    { name: 'y', unit: 'm' },
    { name: 'angle', unit: 'rad', angle: 'countsTurns' },
  ],
  speeds: [
    { name: 'ahead', unit: 'm/s' },
    { name: 'aside', unit: 'm/s' },
    { name: 'rate', unit: 'rad/s' },
  ],
  goInPairs: false,
  rest: [0, 0, 0],
  axes: ['axis'],
  motion: ({ axis }) => {
    const [ex, ey] = inPlane(axis!)
    return {
      pose: ([x, y, angle]) => ({
        rotation: turnAbout(axis!, cos(angle!), sin(angle!)),
        position: plus(scaled(ex, x!), scaled(ey, y!)),
      }),
      subspace: () => [
        { angular: origin, linear: ex },
        { angular: origin, linear: ey },
        { angular: axis!, linear: origin },
      ],
      rates: ([, , angle], [ahead, aside, rate]) => [
        sub(mul(cos(angle!), ahead!), mul(sin(angle!), aside!)),
        add(mul(sin(angle!), ahead!), mul(cos(angle!), aside!)),
        rate!,
      ],
    }
  },
})

/** Two unit vectors across a normal that is given as numbers: x laid into the plane (y where x is the normal). */
function inPlane(normal: Vector): [Vector, Vector] {
  const n = normal as readonly [number, number, number]
  const start = Math.abs(n[0]) > 0.9 ? ([0, 1, 0] as const) : ([1, 0, 0] as const)
  const along = n[0] * start[0] + n[1] * start[1]
  const flat = start.map((value, i) => value - along * n[i]!) as [number, number, number]
  const ex = scaled(flat, 1 / Math.sqrt(flat[0] ** 2 + flat[1] ** 2 + flat[2] ** 2))
  return [ex, cross(normal, ex)]
}
