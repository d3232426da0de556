import { add, less, max, mul, neg, select, square, sub } from '../../expression'
import { number } from '../../kinds'
import { coordinateSlot, notNegative, positive } from './slots'
import { defineEffect } from './effect'

/** Ends of a joint's travel: a stiff spring and a damper beyond them that push back only (common practice, no source). */
export const jointStops = defineEffect({
  name: 'jointStops',
  label: 'stops of a joint',
  says: '{joint} stops at {least} and {most}, giving way by {stiffness} with {damping} of damping.',
  about:
    'Beyond an end: effort = stiffness times the way beyond, plus damping times the speed outward, never drawing it further.',
  slots: {
    joint: coordinateSlot,
    least: number({ label: 'lower end', unit: '' }),
    most: number({ label: 'upper end', unit: '' }),
    stiffness: positive('stiffness', ''),
    damping: notNegative('damping', ''),
  },
  layers: [{ name: 'stops', label: 'Stops', standIn: 'joints have no ends', inDesign: false }],
  isSudden: true,
  act: (scene, part) => {
    if (!scene.has('stops')) return {}
    const { position, speed } = scene.coordinate(part.joint)
    const [stiffness, damping] = [scene.number('stiffness'), scene.number('damping')]
    const below = max(0, sub(scene.number('least'), position))
    const above = max(0, sub(position, scene.number('most')))
    const up = select(less(0, below), max(0, sub(mul(stiffness, below), mul(damping, speed))), 0)
    const down = select(less(0, above), max(0, add(mul(stiffness, above), mul(damping, speed))), 0)
    scene.effort(part.joint, sub(up, down))
    const elastic = mul(stiffness, sub(below, above))
    return {
      stored: mul(mul(0.5, stiffness), add(square(below), square(above))),
      dissipated: neg(mul(sub(sub(up, down), elastic), speed)),
    }
  },
})
