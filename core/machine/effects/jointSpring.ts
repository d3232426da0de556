import { add, mul, neg, square, sub } from '../../expression'
import { number } from '../../kinds'
import { coordinateSlot, notNegative } from './slots'
import { defineEffect } from './effect'

/** A spring and damper on one coordinate of a joint: effort = -k (q - rest) - c q'. */
export const jointSpring = defineEffect({
  name: 'jointSpring',
  label: 'spring in a joint',
  says: 'A spring of {stiffness} with {damping} of damping draws {joint} to {rest}.',
  about: 'effort = - stiffness (position - rest) - damping speed. SI units of the coordinate: N·m/rad or N/m.',
  slots: {
    joint: coordinateSlot,
    stiffness: notNegative('stiffness', ''),
    damping: notNegative('damping', ''),
    rest: number({ label: 'rest position', unit: '' }),
  },
  act: (scene, part) => {
    const { position, speed } = scene.coordinate(part.joint)
    const stretch = sub(position, scene.number('rest'))
    const effort = neg(add(mul(scene.number('stiffness'), stretch), mul(scene.number('damping'), speed)))
    scene.effort(part.joint, effort)
    return {
      stored: mul(mul(0.5, scene.number('stiffness')), square(stretch)),
      dissipated: mul(scene.number('damping'), square(speed)),
    }
  },
})
