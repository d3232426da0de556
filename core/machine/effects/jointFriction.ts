import { add, div, exp, mul, neg, sqrt, square } from '../../expression'
import { coordinateSlot, notNegative, positive } from './slots'
import type { Scalar } from '../../expression'
import { viscousFriction } from './sharedLayers'
import type { Scene } from './effect'
import { defineEffect } from './effect'

/**
 * Friction in a joint: viscous, Coulomb, and Stribeck's extra at rest, made smooth about zero speed:
 * effort = -(c v + (Fc + (Fs - Fc) e^-(v/vs)²) v / sqrt(v² + e²)).
 * Armstrong-Hélouvry, Dupont & Canudas de Wit, Automatica 30, 1994, (from memory), smoothed (common practice).
 */
export const jointFriction = defineEffect({
  name: 'jointFriction',
  label: 'friction in a joint',
  says: 'Friction holds {joint} by {sliding} moving, {breakaway} at rest, and {viscous} more with speed.',
  about:
    'effort = -(viscous v + (sliding + (breakaway - sliding) e^-(v/vs)²) v / sqrt(v² + e²)). Armstrong-Hélouvry, Dupont & Canudas de Wit, Automatica 30, 1994 (from memory); smooth about zero speed, so a joint creeps instead of sticking.',
  slots: {
    joint: coordinateSlot,
    sliding: notNegative('sliding friction', ''),
    breakaway: notNegative('breakaway friction', ''),
    viscous: notNegative('viscous friction', ''),
    stribeck: positive("Stribeck's speed", ''),
    smooth: positive('speed of smoothing', ''),
  },
  layers: [viscousFriction, { name: 'friction', label: 'Dry friction', standIn: 'joints do not stick', inDesign: false }],
  isSudden: true,
  act: (scene, part) => {
    const { speed } = scene.coordinate(part.joint)
    const viscous = scene.has('viscous') ? mul(scene.number('viscous'), speed) : 0
    const held = scene.has('friction') ? add(viscous, dry(scene, speed)) : viscous
    scene.effort(part.joint, neg(held))
    return { dissipated: mul(held, speed) }
  },
})

/** What has no slope at rest: smoothed, it would look like a brake there, so no linear form has it. */
function dry(scene: Pick<Scene, 'number'>, speed: Scalar): Scalar {
  const [sliding, breakaway] = [scene.number('sliding'), scene.number('breakaway')]
  const extra = mul(add(breakaway, neg(sliding)), exp(neg(square(div(speed, scene.number('stribeck'))))))
  const direction = div(speed, sqrt(add(square(speed), square(scene.number('smooth')))))
  return mul(add(sliding, extra), direction)
}
