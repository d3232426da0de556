import { mul, neg } from '../../expression'
import { defineLaw } from '../law'

/**
 * Proportional-derivative law acting on a measured or estimated rate: command = kp error - kd rate. The rate of the
 * reference is left out, so a step of the reference does not kick.
 * Source: Åström & Murray, Feedback Systems, 2nd ed., ch. 11 (from memory).
 */
export const pdOnRate = defineLaw({
  name: 'pdOnRate',
  label: 'PD on the rate',
  says: 'PD on the rate',
  about: 'command = kp (reference - measured) - kd rate. Åström & Murray, Feedback Systems, 2nd ed., ch. 11 (from memory).',
  slots: {},
  gains: ['kp', 'kd'],
  readsRate: true,
  memory: [],
  step: ({ error, rate }, _memory, { kp, kd }) => ({
    terms: { proportional: mul(kp, error), rate: neg(mul(kd, rate)) },
    memory: [],
  }),
})
