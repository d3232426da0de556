import { add, div, less, max, mul, neg, select, sqrt, square, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { cross, dot, minus, plus, scaled } from '../../algebra'
import type { Vector } from '../../algebra'
import { name, number, vector } from '../../kinds'
import { defineEffect } from './effect'
import type { Scene, Touchable } from './effect'
import { notNegative, positive } from './slots'
import { contactLayer } from './sharedLayers'
import { normalPush, touching } from './touching'
import type { Touch } from './touching'

/** A wheel no flatter than this touches with its rim; of one that lies there is no lowest place. */
const leastLean = 1e-3
/** m/s: a slip that nobody sees, so that its size has a slope at none. */
const tiny = 1e-9

/**
 * A wheel on the ground of the surroundings and on what stands on it: it rolls about its axle, and grips along and across by
 * how much it slips. H. B. Pacejka, Tire and Vehicle Dynamics, 3rd ed. 2012, ch. 3: the brush model under combined slip, its
 * rolling speed smoothed at rest (from memory).
 */
export const wheelContact = defineEffect({
  name: 'wheelContact',
  label: 'wheel on ground',
  says: 'A wheel of radius {radius} on {body} about {axis} rolls on the ground: {stiffness}, {damping} of damping, friction {friction}, {grip} of grip.',
  about:
    'It touches with the lowest place of its rim. Slip = velocity of that place along the ground / its rolling speed, smoothed at rest. Force against the slip: grip × slip while small, friction × normal push at most (brush model: 1 - (1 - x)³ of it, x = grip × slip / (3 friction × normal push)). Rolling resistance is a torque about the axle. A wheel that lies on its side does not touch.',
  slots: {
    body: name({ label: 'body', of: 'body' }),
    at: vector({ label: 'centre of the wheel', unit: 'm', components: ['x', 'y', 'z'] }),
    axis: vector({ label: 'axle', unit: '', components: ['x', 'y', 'z'], fill: [0, 1, 0] }),
    radius: positive('radius', 'm'),
    level: number({ label: 'level over the ground', unit: 'm' }),
    stiffness: positive('stiffness', 'N/m'),
    damping: notNegative('damping', 'N·s/m'),
    friction: notNegative('coefficient of friction', ''),
    grip: positive('grip for each unit of small slip', 'N'),
    slow: positive('rolling speed of smoothing', 'm/s'),
    rolling: number({ label: 'coefficient of rolling resistance', unit: '', least: 0, otherwise: 0 }),
  },
  foot: (part) => part,
  layers: [contactLayer],
  isSudden: true,
  contradictions: ({ axis }) =>
    axis.every((component) => component === 0)
      ? [{ slot: 'axis', what: 'Its axle has no direction.', remedy: 'Give it one along the body, such as 0 1 0.' }]
      : [],
  act: (scene, part) => {
    if (!scene.has('contact')) return {}
    const [turning, axle] = [scene.turning(part.body), scene.direction(part.body, 'axis')]
    const { touched, acted } = touching(scene, part.body, ({ velocity }, solid) =>
      grip(scene, { velocity, turning, axle }, solid),
    )
    const most = (of: (one: Grip) => Scalar) => touched.map(of).reduce((a, b) => max(a, b))
    return {
      ...acted,
      signals: [
        ...acted.signals,
        { name: 'slip', label: 'slip', unit: '', value: most(({ slip }) => slip) },
        { name: 'used', label: 'share of its grip in use', unit: '', value: most(({ used }) => used) },
      ],
    }
  },
})

type Wheel = Readonly<Record<'velocity' | 'turning' | 'axle', Vector>>

/** The touch of a wheel, with how much it slips and which share of its grip that uses. */
interface Grip extends Touch {
  readonly slip: Scalar
  readonly used: Scalar
}

function grip(scene: Scene, { velocity: given, turning, axle }: Wheel, { over, normal, rising }: Touchable): Grip {
  const radius = scene.number('radius')
  // as what it touches sees it
  const velocity = minus(given, [0, 0, rising])
  const across = dot(axle, normal)
  const lean = sqrt(max(leastLean * leastLean, sub(1, square(across))))
  const down = scaled(minus(scaled(axle, across), normal), div(1, lean))
  const depth = sub(mul(radius, lean), over)
  // the rim goes down also where the wheel leans over
  const rim = scaled(down, radius)
  const leaving = dot(plus(velocity, cross(turning, rim)), normal)
  const { push, stored, damping } = normalPush(scene, depth, leaving)

  const patch = scaled(down, sub(radius, div(max(0, depth), lean)))
  const carried = cross(turning, patch)
  const moving = plus(velocity, carried)
  const sliding = minus(moving, scaled(normal, dot(moving, normal)))
  const ahead = scaled(cross(axle, normal), div(1, lean))
  const slow = scene.number('slow')
  const rollingSpeed = sqrt(add(square(dot(carried, ahead)), square(slow)))
  const speed = sqrt(add(sum(sliding.map((one) => square(one))), tiny * tiny))
  const most = mul(scene.number('friction'), push)
  const { held, used } = gripping(mul(scene.number('grip'), div(speed, rollingSpeed)), most)
  const drag = div(held, speed)
  const along = scaled(sliding, neg(drag))

  const spin = dot(turning, axle)
  const resisting = mul(mul(scene.number('rolling'), mul(push, radius)), smoothSign(mul(spin, radius), slow))
  const force = plus(scaled(normal, push), along)
  return {
    ...{ push, used, force, stored },
    slip: select(less(0, push), div(speed, rollingSpeed), 0),
    twisting: plus(plus(cross(rim, scaled(normal, push)), cross(patch, along)), scaled(axle, neg(resisting))),
    dissipated: add(add(mul(drag, sum(sliding.map((one) => square(one)))), mul(resisting, spin)), damping),
    supplied: mul(force[2], rising),
  }
}

/** The force of a brush of bristles that are pulled with `pull`, N, where at most `most` holds, and the share of that. */
function gripping(pull: Scalar, most: Scalar): { readonly held: Scalar; readonly used: Scalar } {
  const x = div(pull, mul(3, max(most, tiny)))
  const share = select(less(x, 1), mul(x, add(sub(3, mul(3, x)), square(x))), 1)
  return { held: mul(most, share), used: select(less(tiny, most), share, 0) }
}

function smoothSign(speed: Scalar, slow: Scalar): Scalar {
  return div(speed, sqrt(add(square(speed), square(slow))))
}
