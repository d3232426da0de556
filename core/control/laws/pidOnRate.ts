import { add, mul, neg } from '../../expression'
import type { Law } from '../law'

/** command = kp error + integral - kd rate, the integral summed forward. Sources as for its parts. */
export const pidOnRate: Law = {
  name: 'pidOnRate',
  label: 'PID on the rate',
  says: 'PID on the rate',
  about: 'command = kp error + I - kd rate, then I grows by ki error dt. Sources as for PI and PD.',
  slots: {},
  gains: ['kp', 'ki', 'kd'],
  memory: ['integral'],
  step: ({ error, rate, dt }, [integral], { kp, ki, kd }) => ({
    terms: { proportional: mul(kp, error), integral: integral!, rate: neg(mul(kd, rate)) },
    memory: [add(integral!, mul(mul(ki, dt), error))],
  }),
}
