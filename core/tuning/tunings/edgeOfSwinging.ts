import { tuneByUltimateGain } from '../methods'
import { defineTuning } from './tuning'

/** Gains follow from the edge at which the loop would swing for ever. */
export const edgeOfSwinging = defineTuning({
  name: 'edgeOfSwinging',
  says: 'Gains from the edge at which it would swing for ever.',
  how: 'by the edge of swinging',
  suits: 'errorGains',
  about:
    'The gain and period at which a proportional loop swings for ever, from the linear model, and the classical table of J. G. Ziegler & N. B. Nichols, Transactions of the ASME 64 (1942). Quick to get; it leaves about a quarter of each swing (common practice, no source), so look at the margins.',
  slots: {},
  gains: tuneByUltimateGain,
  starts: () => ({}),
})
