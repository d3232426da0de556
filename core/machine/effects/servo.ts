import { add, clamp, div, mul, neg, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { number } from '../../kinds'
import { coordinateSlot, notNegative, positive } from './slots'
import { driveDynamics, driveLimits } from './sharedLayers'
import type { Scene } from './effect'
import { defineEffect } from './effect'

const slots = {
  joint: coordinateSlot,
  least: number({ label: 'lower end of travel', unit: '' }),
  most: number({ label: 'upper end of travel', unit: '' }),
  mostRate: positive('most rate', ''),
  stiffness: positive('holding stiffness', ''),
  holding: notNegative('holding damping', ''),
  mostEffort: positive('most effort', ''),
} as const

/** The position asked for, within the travel. */
function reached(scene: Scene): Scalar {
  return scene.has('driveLimits') ? clamp(scene.input, scene.number('least'), scene.number('most')) : scene.input
}

function limited(scene: Scene, value: Scalar, slot: 'mostRate' | 'mostEffort'): Scalar {
  return scene.has('driveLimits') ? clamp(value, neg(scene.number(slot)), scene.number(slot)) : value
}

/** Holds the joint where the servo's own model stands, with a spring and damper of limited effort. */
function held(scene: Scene, joint: string, position: Scalar, rate: Scalar) {
  const at = scene.coordinate(joint)
  const asked = add(mul(scene.number('stiffness'), sub(position, at.position)), mul(scene.number('holding'), sub(rate, at.speed)))
  const effort = limited(scene, asked, 'mostEffort')
  scene.effort(joint, effort)
  return {
    supplied: mul(effort, at.speed),
    signals: [
      { name: 'effort', label: 'effort', unit: { along: 'effort' } as const, value: effort },
      { name: 'model', label: 'position it steers to', unit: { along: 'position' } as const, value: position },
    ],
  }
}

/** A position servo of first order: s' = (asked - s)/lag within its rate, the joint held to s. */
export const firstOrderServo = defineEffect({
  name: 'firstOrderServo',
  label: 'servo of first order',
  says: 'A servo turns {joint} to the position asked with a lag of {lag}, at most {mostRate}.',
  about:
    "s' = (asked - s)/lag, held within its rate; effort = stiffness (s - q) + damping (s' - q'), within its limit (common practice, no source).",
  slots: { lag: positive('lag', 's'), ...slots },
  layers: [driveLimits, driveDynamics],
  states: [{ name: 'position', unit: { along: 'position' } }],
  input: { label: 'position asked', unit: { along: 'position' } },
  reach: (number) => number('mostEffort'),
  isSudden: true,
  act: (scene, part) => {
    const [s] = scene.states as [never]
    const rate = limited(scene, div(sub(reached(scene), s), scene.number('lag')), 'mostRate')
    const [position, moving] = scene.has('driveDynamics') ? [s, rate] : [reached(scene), 0]
    return { rates: [rate], ...held(scene, part.joint, position, moving) }
  },
})

/** A position servo of second order: s'' = w² (asked - s) - 2 z w s', its rate limited. */
export const servo = defineEffect({
  name: 'servo',
  label: 'servo of second order',
  says: 'A servo turns {joint} to the position asked at {bandwidth} with a damping of {damping}, at most {mostRate}.',
  about:
    "s'' = w² (asked - s) - 2 z w s', s moving no faster than its rate; effort = stiffness (s - q) + damping (s' - q'), within its limit (common practice, no source).",
  slots: { bandwidth: positive('natural frequency', 'rad/s'), damping: positive('damping ratio', ''), ...slots },
  layers: [driveLimits, driveDynamics],
  states: [
    { name: 'position', unit: { along: 'position' } },
    { name: 'rate', unit: { along: 'speed' } },
  ],
  input: { label: 'position asked', unit: { along: 'position' } },
  reach: (number) => number('mostEffort'),
  isSudden: true,
  act: (scene, part) => {
    const [s, r] = scene.states as [never, never]
    const w = scene.number('bandwidth')
    const pull = mul(mul(w, w), sub(reached(scene), s))
    const speeding = sub(pull, mul(mul(2, mul(scene.number('damping'), w)), r))
    const rate = limited(scene, r, 'mostRate')
    const [position, moving] = scene.has('driveDynamics') ? [s, rate] : [reached(scene), 0]
    return { rates: [rate, speeding], ...held(scene, part.joint, position, moving) }
  },
})
