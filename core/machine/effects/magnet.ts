import { clamp, div, mul, neg, square } from '../../expression'
import { betweenSlots, positive, span } from './slots'
import { driveLimits } from './sharedLayers'
import { defineEffect } from './effect'

/** An electromagnet draws a body: pull = C i² / gap² (magnetic circuit whose gap rules; common practice). */
export const magnet = defineEffect({
  name: 'magnet',
  label: 'electromagnet',
  says: 'A magnet of {constant} on {from} draws {to} by its current, at most {most}.',
  about:
    'pull = C (i / gap)², the gap between two points: a magnetic circuit in which the gap holds all the resistance (common practice, no source).',
  slots: { ...betweenSlots, constant: positive('magnet constant', 'N·m²/A²'), most: positive('most current', 'A') },
  layers: [driveLimits],
  input: { label: 'current', unit: 'A' },
  act: (scene, part) => {
    const { length, rate, pull } = span(scene, part)
    const current = scene.has('driveLimits') ? clamp(scene.input, 0, scene.number('most')) : scene.input
    const force = mul(scene.number('constant'), square(div(current, length)))
    pull(force)
    return { supplied: neg(mul(force, rate)), signals: [{ name: 'pull', label: 'pull', unit: 'N', value: force }] }
  },
})
