import { number } from '../../kinds'
import { tuneByTimeConstant } from '../methods'
import { defineTuning } from './tuning'

/** Gains follow from how fast the closed loop shall follow. */
export const followWithin = defineTuning({
  name: 'followWithin',
  says: 'Follow within {timeConstant}.',
  how: 'by a time constant',
  suits: 'errorGains',
  about:
    'Gains by rules for lags, delay and up to two integrators, from the time constant of the closed loop: the half rule, then table 1 of S. Skogestad, Journal of Process Control 13 (2003). A time constant below the delay leaves little margin.',
  slots: { timeConstant: number({ label: 'time constant', unit: 's', above: 0, most: 1e4 }) },
  gains: (model, { timeConstant }) => tuneByTimeConstant(model, timeConstant),
  starts: ({ crossover = 1 }) => ({ timeConstant: Number((1 / crossover).toPrecision(3)) }),
})
