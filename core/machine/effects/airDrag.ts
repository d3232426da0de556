import { add, mul, neg, sqrt, square, sum } from '../../expression'
import { scaled } from '../../algebra'
import { name, vector } from '../../kinds'
import { notNegative } from './slots'
import type { EffectKind } from './effect'

/** Drag at a point: force = -(linear + quadratic |v|) v. */
export const airDrag: EffectKind = {
  name: 'airDrag',
  label: 'drag',
  says: 'The air resists {body} by {linear} and {quadratic}.',
  about: 'force = -(linear + quadratic |v|) v at a point; quadratic = density times drag coefficient times area over 2.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'where it acts', unit: 'm', components: ['x', 'y', 'z'] }),
    linear: notNegative('linear drag', 'N·s/m'),
    quadratic: notNegative('quadratic drag', 'N·s²/m²'),
  },
  act: (scene, part) => {
    if (!scene.has('air')) return {}
    const at = scene.vector('at')
    const { velocity } = scene.point(part.body as string, at)
    const square2 = sum(velocity.map((component) => square(component)))
    const factor = add(scene.number('linear'), mul(scene.number('quadratic'), sqrt(square2)))
    scene.push(part.body as string, at, scaled(velocity, neg(factor)))
    return { dissipated: mul(factor, square2) }
  },
}
