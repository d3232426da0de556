import { number, table } from '../../kinds'
import { outOfReach } from '../tune'
import { defineTuning } from './tuning'

export const typedGains = defineTuning({
  name: 'typedGains',
  says: 'Gains as typed.',
  inShort: 'Gains as typed in the ledger.',
  how: 'as typed',
  suits: 'both',
  about: 'The gains as given, in units of the push per unit of the held quantity (and its integral and rate).',
  slots: {
    kp: number({ label: 'proportional gain', unit: '', otherwise: 0 }),
    ki: number({ label: 'integral gain', unit: '', otherwise: 0 }),
    kd: number({ label: 'rate gain', unit: '', otherwise: 0 }),
    states: table({
      label: 'gains on signals',
      columns: [{ label: 'gain', unit: '' }],
      fill: [],
      optional: true,
      note: 'state feedback: one row for each signal, in its order',
    }),
    crossover: number({ label: 'crossover they were made for', unit: 'rad/s', above: 0, most: 1e4, optional: true }),
    phaseMargin: number({ label: 'phase margin they were made for', unit: 'rad', above: -3.2, most: 3.2, optional: true }),
    made: table({
      label: 'gains that were made for it',
      columns: [{ label: 'gain', unit: '' }],
      fill: [],
      optional: true,
      note: 'on the error, its integral, its rate, then on signals; others were typed since',
    }),
  },
  gains: (model, { kp, ki, kd, states }) => {
    const { gains, signals } = model.law
    if (states.length > signals.length)
      return {
        ...outOfReach(`${states.length} gains are given for ${signals.length} signals.`, 'Give one for each signal of the law.'),
        slot: 'states',
      }
    const fedBack = gains.filter((gain) => signals.includes(gain)).map((gain, i) => [gain, states[i]?.[0] ?? 0])
    return { kind: 'tuned', gains: { kp, ki, kd, ...Object.fromEntries(fedBack) } }
  },
  starts: ({ typed = {} }) => typed,
  stays: 'its gains are typed',
})
