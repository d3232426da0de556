import { add, clamp, div, max, mul, square, sub, sum } from '../../expression'
import { dot, minus, plus, scaled } from '../../algebra'
import { name, vector } from '../../kinds'
import { notNegative, positive } from './slots'
import { defineEffect } from './effect'

/** An upright column that water lifts by the weight of what it displaces (Archimedes), and damps as far as it is under water. */
export const floatColumn = defineEffect({
  name: 'floatColumn',
  label: 'float',
  says: 'A float on {body}, {area} across and {height} high from {at} on, is lifted by water, and damped by {damping}.',
  about:
    'Lift = density × gravity × area × how far the surface stands over its foot, up to its height; damping × the share under water × the velocity of the water against it. Nothing where there is no water. Several of them make a hull.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'foot of the float', unit: 'm', components: ['x', 'y', 'z'] }),
    area: positive('area', 'm²'),
    height: positive('height', 'm'),
    damping: notNegative('damping', 'N·s/m'),
  },
  isSudden: true,
  act: (scene, part) => {
    const at = scene.vector('at')
    const { position, velocity } = scene.point(part.body, at)
    const water = scene.water(position[0], position[1])
    if (water === undefined) return {}
    const height = scene.number('height')
    const depth = sub(water.height, position[2])
    const under = clamp(depth, 0, height)
    const weight = mul(mul(water.density, scene.gravity), scene.number('area'))
    const lift = mul(weight, under)
    const through = minus(water.velocity(position[2]), velocity)
    const factor = mul(scene.number('damping'), div(under, height))
    const drag = scaled(through, factor)
    scene.push(part.body, at, plus([0, 0, lift], drag))
    // what the surface does where the float goes, and what carries it along
    const rising = add(water.rising, sum([0, 1].map((i) => mul(water.slope[i]!, velocity[i]!))))
    const carried = dot(drag, water.velocity(position[2]))
    return {
      stored: add(mul(mul(0.5, weight), square(under)), mul(mul(weight, height), max(0, sub(depth, height)))),
      dissipated: mul(factor, sum(through.map((one) => square(one)))),
      supplied: add(mul(lift, rising), carried),
      signals: [{ name: 'lift', label: 'lift', unit: 'N', value: lift }],
    }
  },
})
