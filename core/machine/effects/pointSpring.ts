import { add, mul, square, sub } from '../../expression'
import { betweenSlots, notNegative, span } from './slots'
import { defineEffect } from './effect'

/** A spring with a damper between two points: pull = k (length - rest) + c d(length)/dt. Hooke's law. */
export const pointSpring = defineEffect({
  name: 'pointSpring',
  label: 'spring between points',
  says: 'A spring of {stiffness} with {damping} of damping pulls {from} and {to} towards {rest} apart.',
  about: 'pull = stiffness (length - rest) + damping d(length)/dt, along the line between the points (Hooke).',
  slots: {
    ...betweenSlots,
    stiffness: notNegative('stiffness', 'N/m'),
    damping: notNegative('damping', 'N·s/m'),
    rest: notNegative('rest length', 'm'),
  },
  act: (scene, part) => {
    const { length, rate, pull } = span(scene, part)
    const stretch = sub(length, scene.number('rest'))
    const force = add(mul(scene.number('stiffness'), stretch), mul(scene.number('damping'), rate))
    pull(force)
    return {
      stored: mul(mul(0.5, scene.number('stiffness')), square(stretch)),
      dissipated: mul(scene.number('damping'), square(rate)),
      signals: [{ name: 'pull', label: 'pull', unit: 'N', value: force }],
    }
  },
})
