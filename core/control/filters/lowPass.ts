import { number } from '../../kinds'
import { defineFilter, ownFrequency } from './filter'

/** 1/(1 + s/w), or of second order 1/(1 + 2 ζ s/w + s²/w²). */
export const lowPass = defineFilter({
  name: 'lowPass',
  label: 'low-pass',
  says: 'let through what is slower than {frequency}, order {order#}, damped by {damping}',
  about: 'First order 1/(1 + s/w), second order 1/(1 + 2 ζ s/w + s²/w²). Common practice, no source.',
  slots: {
    frequency: number({ label: 'corner', unit: 'rad/s', above: 0, most: 1e5 }),
    order: number({ label: 'order', unit: '', least: 1, most: 2, whole: true }),
    damping: number({ label: 'damping ratio', unit: '', above: 0, most: 2, otherwise: 0.7, note: 'second order only' }),
  },
  transfer: ({ frequency, order, damping }) => {
    const [w, zeta] = [frequency, damping]
    return order === 1 ? { num: [w], den: [1, w] } : { num: [w * w], den: [1, 2 * zeta * w, w * w] }
  },
  centre: ownFrequency.centre,
})
