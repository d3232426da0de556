import { add, div, max, mul, neg, sqrt, square, sub, sum } from '../../expression'
import { cross, dot, minus, plus, scaled } from '../../algebra'
import type { Vector } from '../../algebra'
import { name, number, vector } from '../../kinds'
import { defineEffect } from './effect'
import type { Scene, Touchable } from './effect'
import { notNegative, positive } from './slots'
import { contactLayer } from './sharedLayers'
import { normalPush, touching } from './touching'
import type { Touch } from './touching'

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
  layers: [contactLayer],
  isSudden: true,
  act: (scene, part) => {
    if (!scene.has('contact')) return {}
    const turning = scene.turning(part.body)
    return touching(scene, part.body, ({ velocity }, solid) => touch(scene, { velocity, turning }, solid)).acted
  },
})

function touch(scene: Scene, foot: Readonly<Record<'velocity' | 'turning', Vector>>, { over, normal, rising }: Touchable): Touch {
  // as what it touches sees it
  const velocity = minus(foot.velocity, [0, 0, rising])
  const depth = max(0, sub(scene.number('radius'), over))
  const leaving = dot(velocity, normal)
  const { push, stored, damping } = normalPush(scene, depth, leaving)
  // it lies so far below its centre
  const arm = scaled(normal, sub(depth, scene.number('radius')))
  const moving = plus(velocity, cross(foot.turning, arm))
  const slip = minus(moving, scaled(normal, leaving))
  const slipSquare = sum(slip.map((component) => square(component)))
  const drag = div(mul(scene.number('friction'), push), sqrt(add(slipSquare, square(scene.number('smooth')))))
  const along = scaled(slip, neg(drag))
  const force = plus(scaled(normal, push), along)
  return {
    push,
    force,
    twisting: cross(arm, along),
    stored,
    dissipated: add(mul(drag, slipSquare), damping),
    supplied: mul(force[2], rising),
  }
}
