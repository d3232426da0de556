import { add, clamp, div, log, mul, neg, square, sub } from '../../expression'
import { betweenSlots, notNegative, positive, span } from './slots'
import { defineEffect } from './effect'

/**
 * A gas strut pushes its ends apart. Boyle's law for a rod of constant section: push = F1 / (1 - (1 - 1/ratio) s),
 * where s is the share of the stroke that is pressed in, so that the push is F1 extended and ratio F1 pressed in.
 */
export const gasStrut = defineEffect({
  name: 'gasStrut',
  label: 'gas strut',
  says: 'A gas strut pushes {from} and {to} apart with {extended}, {ratio} times that when pressed in by {stroke}.',
  about:
    "push = F1 / (1 - (1 - 1/ratio) s), s the share of the stroke pressed in (Boyle's law at constant temperature), less a damper's part.",
  slots: {
    ...betweenSlots,
    extended: positive('push when extended', 'N'),
    ratio: { ...positive('progression', ''), above: 1, most: 5 },
    longest: positive('length when extended', 'm'),
    stroke: positive('stroke', 'm'),
    damping: notNegative('damping', 'N·s/m'),
  },
  isSudden: true,
  act: (scene, part) => {
    const { length, rate, pull } = span(scene, part)
    const [extended, stroke] = [scene.number('extended'), scene.number('stroke')]
    const share = div(sub(scene.number('longest'), length), stroke)
    const pressed = clamp(share, 0, 1)
    const lost = sub(1, div(1, scene.number('ratio')))
    const room = sub(1, mul(lost, pressed))
    const push = div(extended, room)
    const damping = mul(scene.number('damping'), rate)
    pull(sub(damping, push))
    return {
      // the work to press it in: integral of the push over the stroke; beyond its ends the push stays as it is there
      stored: add(mul(mul(extended, stroke), div(neg(log(room)), lost)), mul(mul(push, stroke), sub(share, pressed))),
      dissipated: mul(scene.number('damping'), square(rate)),
      signals: [{ name: 'push', label: 'push', unit: 'N', value: add(push, neg(damping)) }],
    }
  },
})
