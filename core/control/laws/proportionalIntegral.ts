import { add, mul } from '../../expression'
import type { Law } from '../law'

/**
 * command = kp error + integral, the integral summed forward: I+ = I + ki error dt.
 * Source: Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., ch. 8 (from memory).
 */
export const proportionalIntegral: Law = {
  name: 'proportionalIntegral',
  label: 'PI',
  says: 'PI',
  about:
    'command = kp error + I, then I grows by ki error dt. Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., ch. 8 (from memory).',
  slots: {},
  gains: ['kp', 'ki'],
  memory: ['integral'],
  step: ({ error, dt }, [integral], { kp, ki }) => ({
    terms: { proportional: mul(kp, error), integral: integral! },
    memory: [add(integral!, mul(mul(ki, dt), error))],
  }),
}
