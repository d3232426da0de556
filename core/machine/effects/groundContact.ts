import { add, div, max, mul, neg, sqrt, square, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { cross, dot, minus, plus, scaled } from '../../algebra'
import type { Vector } from '../../algebra'
import { name, number, vector } from '../../kinds'
import { defineEffect } from './effect'
import type { Scene, Touchable } from './effect'
import { normalPush } from './normalPush'
import { notNegative, positive } from './slots'

/**
 * A round foot on the ground of the surroundings, level without, and on what stands on it: spring and damper along the normal,
 * pushing only; friction along it where they touch, so that the foot can roll, smooth about zero slip: F_t = -mu N v_t / sqrt(v_t² + e²)
 * (Coulomb's law, regularized; common practice).
 */
export const groundContact = defineEffect({
  name: 'groundContact',
  label: 'contact with ground',
  says: 'A foot of radius {radius} on {body} touches the ground: {stiffness}, {damping} of damping, friction {friction}.',
  about:
    'It touches the ground, and the obstacles of the scene of a trial. Normal push = max(0, stiffness depth - damping d(height)/dt) while it touches; friction = mu times the normal push against the slip where they touch, so that it can roll, smooth about zero slip (Coulomb, regularized).',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'centre of the foot', unit: 'm', components: ['x', 'y', 'z'] }),
    radius: notNegative('radius', 'm'),
    level: number({ label: 'level over the ground', unit: 'm' }),
    stiffness: positive('stiffness', 'N/m'),
    damping: notNegative('damping', 'N·s/m'),
    friction: notNegative('coefficient of friction', ''),
    smooth: positive('slip of smoothing', 'm/s'),
  },
  foot: (part) => part,
  layers: [{ name: 'contact', label: 'Contact', standIn: 'feet pass through the ground', inDesign: true }],
  isSudden: true,
  act: (scene, part) => {
    if (!scene.has('contact')) return {}
    const body = part.body
    const at = scene.vector('at')
    const { position, velocity } = scene.point(body, at)
    const foot = { velocity, turning: scene.turning(body) }
    const touched = scene.touchable(position, scene.number('level')).map((one) => touch(scene, foot, one))
    for (const { force, twisting } of touched) {
      scene.push(body, at, force)
      scene.twist(body, twisting)
    }
    const total = (of: (one: Touch) => Scalar) => sum(touched.map(of))
    return {
      stored: total(({ stored }) => stored),
      dissipated: total(({ dissipated }) => dissipated),
      supplied: total(({ supplied }) => supplied),
      signals: [{ name: 'normal', label: 'normal push', unit: 'N', value: total(({ push }) => push) }],
    }
  },
})

/** What a foot and something solid do to one another. */
interface Touch {
  readonly push: Scalar
  readonly force: Vector
  readonly twisting: Vector
  readonly stored: Scalar
  readonly dissipated: Scalar
  readonly supplied: Scalar
}

function touch(scene: Scene, foot: Readonly<Record<'velocity' | 'turning', Vector>>, { over, normal, rising }: Touchable): Touch {
  // as what it touches sees it
  const velocity = minus(foot.velocity, [0, 0, rising])
  const depth = max(0, sub(scene.number('radius'), over))
  const leaving = dot(velocity, normal)
  const { push, elastic } = normalPush(scene, depth, leaving)
  // it lies so far below its centre
  const arm = scaled(normal, sub(depth, scene.number('radius')))
  const touching = plus(velocity, cross(foot.turning, arm))
  const slip = minus(touching, scaled(normal, leaving))
  const slipSquare = sum(slip.map((component) => square(component)))
  const drag = div(mul(scene.number('friction'), push), sqrt(add(slipSquare, square(scene.number('smooth')))))
  const along = scaled(slip, neg(drag))
  const force = plus(scaled(normal, push), along)
  return {
    push,
    force,
    twisting: cross(arm, along),
    stored: mul(mul(0.5, scene.number('stiffness')), square(depth)),
    dissipated: add(mul(drag, slipSquare), mul(sub(elastic, push), leaving)),
    supplied: mul(force[2], rising),
  }
}
