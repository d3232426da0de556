import { sin, sqrt } from '../../expression'
import { number } from '../../kinds'
import { defineFilter, ownFrequency } from './filter'

/** √r (s + w/√r)/(s + w √r): gain 1 and the most lift, φ, at w; r = (1 + sin φ)/(1 - sin φ). */
export const lead = defineFilter({
  name: 'lead',
  label: 'lead',
  says: 'lift the phase by {lift} about {frequency}',
  about:
    'Gain 1 at the frequency, the most phase there: r = (1 + sin φ)/(1 - sin φ), √r (s + w/√r)/(s + w √r). Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, ch. 6 (from memory).',
  slots: {
    lift: number({ label: 'phase lift', unit: 'rad', above: 0, most: 1.3 }),
    frequency: ownFrequency.slot,
  },
  transfer: ({ lift, frequency }) => {
    const [s, w] = [sin(lift), frequency]
    const root = sqrt((1 + s) / (1 - s))
    return { num: [root, w], den: [1, w * root] }
  },
  centre: ownFrequency.centre,
})
