import { choice, number } from '../../kinds'
import { stepReaction, tuneByStep } from '../experiments'
import { defineTuning } from './tuning'

/** Gains follow from a step of the push with the loop open, on the linear model. */
export const stepExperiment = defineTuning({
  name: 'stepExperiment',
  says: 'Let the open loop answer to a step of {size}, and take the table of {table}.',
  how: 'by a step experiment',
  suits: 'errorGains',
  about:
    'The answer to a step of the push is taken for a lag with delay, from where it has come to 28 and 63 % (C. L. Smith, Digital Computer Process Control, 1972, from memory), or for an integrator with delay. The tables are meant for delays of a tenth of the lag up to the lag itself (common practice, no source).',
  slots: {
    size: number({ label: 'size of the step', unit: '', above: 0, otherwise: 1 }),
    table: choice({
      label: 'table',
      options: { zieglerNichols: 'Ziegler and Nichols', cohenCoon: 'Cohen and Coon', skogestad: 'Skogestad' },
      otherwise: 'zieglerNichols',
    }),
  },
  gains: tuneByStep,
  starts: ({ push }) => ({ size: push }),
  shows: (model, { size }) => stepReaction(model, size),
})
