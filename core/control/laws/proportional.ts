import { mul } from '../../expression'
import { defineLaw } from '../law'

/** command = kp error. Source: Åström & Murray, Feedback Systems, 2nd ed., ch. 11 (from memory). */
export const proportional = defineLaw({
  name: 'proportional',
  label: 'P',
  says: 'P',
  about: 'command = kp (reference - measured). Åström & Murray, Feedback Systems, 2nd ed., ch. 11 (from memory).',
  slots: {},
  gains: ['kp'],
  readsRate: false,
  memory: [],
  step: ({ error }, _memory, { kp }) => ({ terms: { proportional: mul(kp, error) }, memory: [] }),
})
