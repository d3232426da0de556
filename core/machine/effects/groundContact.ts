import { add, div, less, max, mul, neg, select, sqrt, square, sub, sum } from '../../expression'
import { cross, dot, minus, plus, scaled } from '../../algebra'
import { name, number, vector } from '../../kinds'
import { notNegative, positive } from './slots'
import { defineEffect } from './effect'

/**
 * A round foot on the ground of the surroundings, level without: spring and damper along the normal, pushing only; friction
 * along the ground where they touch, so that the foot can roll, smooth about zero slip: F_t = -mu N v_t / sqrt(v_t² + e²)
 * (Coulomb's law, regularized; common practice).
 */
export const groundContact = defineEffect({
  name: 'groundContact',
  label: 'contact with ground',
  says: 'A foot of radius {radius} on {body} touches the ground: {stiffness}, {damping} of damping, friction {friction}.',
  about:
    'Normal push = max(0, stiffness depth - damping d(height)/dt) while it touches; friction = mu times the normal push against the slip where they touch, so that it can roll, smooth about zero slip (Coulomb, regularized).',
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
  touchesGround: true,
  layers: [{ name: 'contact', label: 'Contact', standIn: 'feet pass through the ground', inDesign: true }],
  isSudden: true,
  act: (scene, part) => {
    if (!scene.has('contact')) return {}
    const body = part.body
    const at = scene.vector('at')
    const { position, velocity: moving } = scene.point(body, at)
    const { height, normal, rising = 0 } = scene.ground(position[0], position[1])
    // as the ground sees it
    const velocity = minus(moving, [0, 0, rising])
    const over = mul(sub(position[2], add(height, scene.number('level'))), normal[2])
    const depth = max(0, sub(scene.number('radius'), over))
    const leaving = dot(velocity, normal)
    const elastic = mul(scene.number('stiffness'), depth)
    const push = select(less(0, depth), max(0, sub(elastic, mul(scene.number('damping'), leaving))), 0)
    // the ground lies so far below its centre
    const arm = scaled(normal, sub(depth, scene.number('radius')))
    const touching = plus(velocity, cross(scene.turning(body), arm))
    const slip = minus(touching, scaled(normal, leaving))
    const slipSquare = sum(slip.map((component) => square(component)))
    const drag = div(mul(scene.number('friction'), push), sqrt(add(slipSquare, square(scene.number('smooth')))))
    const along = scaled(slip, neg(drag))
    const force = plus(scaled(normal, push), along)
    scene.push(body, at, force)
    scene.twist(body, cross(arm, along))
    return {
      stored: mul(mul(0.5, scene.number('stiffness')), square(depth)),
      dissipated: add(mul(drag, slipSquare), mul(sub(elastic, push), leaving)),
      supplied: mul(force[2], rising),
      signals: [{ name: 'normal', label: 'normal push', unit: 'N', value: push }],
    }
  },
})
