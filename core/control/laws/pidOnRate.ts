import { mul, neg } from '../../expression'
import { integralSlots, nextIntegral } from './integral'
import { defineLaw } from '../law'

/** command = kp error + integral - kd rate, the integral summed forward. Sources as for its parts. */
export const pidOnRate = defineLaw({
  name: 'pidOnRate',
  label: 'PID on the rate',
  says: 'PID on the rate',
  about: 'command = kp error + I - kd rate, then I grows by ki error dt. Sources as for PI and PD.',
  slots: integralSlots,
  gains: ['kp', 'ki', 'kd'],
  readsRate: true,
  memory: ['integral'],
  step: (inputs, [integral], { kp, ki, kd }, settings) => ({
    terms: { proportional: mul(kp, inputs.error), integral: integral!, rate: neg(mul(kd, inputs.rate)) },
    memory: [nextIntegral(integral!, ki, inputs, settings)],
  }),
})
