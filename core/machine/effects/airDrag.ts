import { add, mul, neg, sqrt, square, sum } from '../../expression'
import { dot, minus, scaled } from '../../algebra'
import { name, vector } from '../../kinds'
import { notNegative } from './slots'
import { defineEffect } from './effect'

/** kg/m³: the air that the quadratic drag is given for. */
export const drawnDensity = 1.225

/** Drag at a point that moves through the air: force = -(linear + quadratic |u|) u. */
export const airDrag = defineEffect({
  name: 'airDrag',
  label: 'drag',
  says: 'The air resists {body} by {linear} and {quadratic}.',
  about:
    'force = -(linear + quadratic |u|) u at a point, u its velocity against the air; quadratic = density × drag coefficient × area / 2 at 1.225 kg/m³, in proportion to the density of the surroundings.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'where it acts', unit: 'm', components: ['x', 'y', 'z'] }),
    linear: notNegative('linear drag', 'N·s/m'),
    quadratic: notNegative('quadratic drag', 'N·s²/m²'),
  },
  layers: [{ name: 'air', label: 'Air', standIn: 'the air does not resist', inDesign: true }],
  act: (scene, part) => {
    if (!scene.has('air')) return {}
    const at = scene.vector('at')
    const { position, velocity } = scene.point(part.body, at)
    const wind = scene.wind(position)
    const through = minus(velocity, wind)
    const square2 = sum(through.map((component) => square(component)))
    const share = mul(scene.density(position[2]), 1 / drawnDensity)
    const factor = add(scene.number('linear'), mul(mul(scene.number('quadratic'), share), sqrt(square2)))
    scene.push(part.body, at, scaled(through, neg(factor)))
    return { dissipated: mul(factor, square2), supplied: neg(mul(factor, dot(through, wind))) }
  },
})
