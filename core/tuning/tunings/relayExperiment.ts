import { choice, number } from '../../kinds'
import { relaySwing, tuneByRelay } from '../experiments'
import { defineTuning } from './tuning'

/** Gains follow from a relay experiment on the linear model. */
export const relayExperiment = defineTuning({
  name: 'relayExperiment',
  says: 'Let a relay of {amplitude} swing it, and take the table of {table}.',
  how: 'by a relay experiment',
  suits: 'errorGains',
  about:
    'A relay in place of the law makes the loop swing by itself; the swing gives the gain and the period at which a proportional loop swings for ever. K. J. Åström & T. Hägglund, Automatica 20 (1984). The classical tables are quick to get and leave little damping (common practice, no source), so look at the margins.',
  slots: {
    amplitude: number({ label: 'amplitude of the relay', unit: '', above: 0, otherwise: 1 }),
    hysteresis: number({ label: 'hysteresis', unit: '', least: 0, otherwise: 0 }),
    table: choice({
      label: 'table',
      options: { zieglerNichols: 'Ziegler and Nichols', tyreusLuyben: 'Tyreus and Luyben' },
      otherwise: 'zieglerNichols',
    }),
  },
  gains: tuneByRelay,
  starts: ({ push }) => ({ amplitude: push }),
  shows: relaySwing,
})
