import { add, div, less, max, mul, neg, select, sqrt, square, sub } from '../../expression'
import { name, number, vector } from '../../kinds'
import { notNegative, positive } from './slots'
import type { EffectKind } from './effect'

/**
 * A round foot on level ground: spring and damper along the normal, pushing only; friction along the ground, smooth
 * about zero slip: F_t = -mu N v_t / sqrt(v_t² + e²) (Coulomb's law, regularized; common practice).
 */
export const groundContact: EffectKind = {
  name: 'groundContact',
  label: 'contact with ground',
  says: 'A foot of radius {radius} on {body} touches the ground: {stiffness}, {damping} of damping, friction {friction}.',
  about:
    'Normal push = max(0, stiffness depth - damping d(height)/dt) while it touches; friction = mu times the normal push against the slip, smooth about zero slip (Coulomb, regularized).',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'centre of the foot', unit: 'm', components: ['x', 'y', 'z'] }),
    radius: notNegative('radius', 'm'),
    level: number({ label: 'level of the ground', unit: 'm' }),
    stiffness: positive('stiffness', 'N/m'),
    damping: notNegative('damping', 'N·s/m'),
    friction: notNegative('coefficient of friction', ''),
    smooth: positive('slip of smoothing', 'm/s'),
  },
  act: (scene, part) => {
    if (!scene.has('contact')) return {}
    const body = part.body as string
    const at = scene.vector('at')
    const { position, velocity } = scene.point(body, at)
    const depth = max(0, sub(add(scene.number('level'), scene.number('radius')), position[2]))
    const elastic = mul(scene.number('stiffness'), depth)
    const normal = select(less(0, depth), max(0, sub(elastic, mul(scene.number('damping'), velocity[2]))), 0)
    const [vx, vy] = velocity
    const slip = sqrt(add(add(square(vx), square(vy)), square(scene.number('smooth'))))
    const drag = div(mul(scene.number('friction'), normal), slip)
    scene.push(body, at, [neg(mul(drag, vx)), neg(mul(drag, vy)), normal])
    const slipping = mul(drag, add(square(vx), square(vy)))
    return {
      stored: mul(mul(0.5, scene.number('stiffness')), square(depth)),
      dissipated: add(slipping, mul(sub(elastic, normal), velocity[2])),
      signals: [{ name: 'normal', label: 'normal push', unit: 'N', value: normal }],
    }
  },
}
