import { mul } from '../../expression'
import { derivativeSlots, filteredRate, weighed } from './derivative'
import { defineLaw } from '../law'

/** command = kp (b reference - measured) + kd d(c reference - measured)/dt, the rate filtered. Sources as for its parts. */
export const proportionalDerivative = defineLaw({
  name: 'proportionalDerivative',
  label: 'PD',
  says: 'PD',
  about:
    'command = kp (b reference - measured) + kd d(c reference - measured)/dt through a first-order filter. Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., section 8.5 (from memory).',
  slots: derivativeSlots,
  gains: ['kp', 'kd'],
  readsRate: false,
  memory: ['derivative', 'seen'],
  step: (inputs, [derivative, seen], { kp, kd }, settings) => {
    const { rate, memory } = filteredRate(inputs, [derivative!, seen!], settings)
    return {
      terms: { proportional: mul(kp, weighed(inputs, settings.setPointWeight)), rate: mul(kd, rate) },
      memory,
    }
  },
})
