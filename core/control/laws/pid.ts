import { mul } from '../../expression'
import { derivativeSlots, filteredRate, weighed } from './derivative'
import { integralSlots, nextIntegral } from './integral'
import { defineLaw } from '../law'

/** command = kp (b reference - measured) + I + kd d(c reference - measured)/dt, the rate filtered. Sources as for its parts. */
export const proportionalIntegralDerivative = defineLaw({
  name: 'proportionalIntegralDerivative',
  label: 'PID',
  says: 'PID',
  about:
    'command = kp (b reference - measured) + I + kd d(c reference - measured)/dt through a first-order filter; I grows by ki error dt. Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., section 8.5 (from memory).',
  slots: { ...derivativeSlots, ...integralSlots },
  gains: ['kp', 'ki', 'kd'],
  readsRate: false,
  memory: ['integral', 'derivative', 'seen'],
  step: (inputs, [integral, derivative, seen], { kp, ki, kd }, settings) => {
    const { rate, memory } = filteredRate(inputs, [derivative!, seen!], settings)
    const proportional = mul(kp, weighed(inputs, settings.setPointWeight))
    return {
      terms: { proportional, integral: integral!, rate: mul(kd, rate) },
      memory: [nextIntegral(integral!, ki, inputs, settings), ...memory],
    }
  },
})
