import { mul } from '../../expression'
import { integralSlots, nextIntegral } from './integral'
import { defineLaw } from '../law'

/**
 * command = kp error + integral, the integral summed forward: I+ = I + ki error dt.
 * Source: Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., ch. 8 (from memory).
 */
export const proportionalIntegral = defineLaw({
  name: 'proportionalIntegral',
  label: 'PI',
  says: 'PI',
  about:
    'command = kp error + I, then I grows by ki error dt. Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., ch. 8 (from memory).',
  slots: integralSlots,
  gains: ['kp', 'ki'],
  readsRate: false,
  memory: ['integral'],
  step: (inputs, [integral], { kp, ki }, settings) => ({
    terms: { proportional: mul(kp, inputs.error), integral: integral! },
    memory: [nextIntegral(integral!, ki, inputs, settings)],
  }),
})
