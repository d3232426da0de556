import { add, less, max, mul, select, square, sub } from '../../expression'
import { betweenSlots, notNegative, positive, span } from './slots'
import { defineEffect } from './effect'

/** A cable: pulls when it is longer than its free length, never pushes (common practice, no source). */
export const cable = defineEffect({
  name: 'cable',
  label: 'cable',
  says: 'A cable of {length} holds {from} to {to}, giving way by {stiffness} with {damping} of damping.',
  about: 'pull = max(0, stiffness (span - length) + damping d(span)/dt) while taut, 0 while slack.',
  slots: {
    ...betweenSlots,
    length: positive('free length', 'm'),
    stiffness: positive('stiffness', 'N/m'),
    damping: notNegative('damping', 'N·s/m'),
  },
  isSudden: true,
  act: (scene, part) => {
    const { length, rate, pull } = span(scene, part)
    const stretch = max(0, sub(length, scene.number('length')))
    const elastic = mul(scene.number('stiffness'), stretch)
    const taut = less(0, stretch)
    const force = select(taut, max(0, add(elastic, mul(scene.number('damping'), rate))), 0)
    pull(force)
    return {
      stored: mul(mul(0.5, scene.number('stiffness')), square(stretch)),
      dissipated: mul(sub(force, elastic), rate), // what the damper takes, also where it would have pushed
      signals: [{ name: 'pull', label: 'pull', unit: 'N', value: force }],
    }
  },
})
