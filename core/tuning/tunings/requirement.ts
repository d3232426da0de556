import { number } from '../../kinds'
import { tune } from '../tune'
import { defineTuning } from './tuning'

/** The third gain of a law unless its requirement says otherwise: common practice, no source. */
export const usualIntegralCorner = 0.125

/** Gains follow from where the loop shall cross over and how much phase shall be left. */
export const requirement = defineTuning({
  name: 'requirement',
  says: 'Cross over at {crossover} with {phaseMargin} in hand.',
  how: 'by crossover and margin',
  suits: 'errorGains',
  about:
    'Gains are solved so that the loop crosses over at this frequency with this phase margin, the real delay and lags counted. A third gain follows the stated rule.',
  slots: {
    crossover: number({ label: 'crossover', unit: 'rad/s', above: 0, most: 1e4 }),
    phaseMargin: number({ label: 'phase margin', unit: 'rad', above: 0, most: 3 }),
    integralCorner: number({
      label: 'integral corner',
      unit: '',
      above: 0,
      most: 1,
      otherwise: usualIntegralCorner,
      note: 'as a share of the crossover; PID only',
    }),
  },
  gains: tune,
  starts: ({ crossover = 1, phaseMargin = 0 }) => ({ crossover, phaseMargin: phaseMargin > 0 ? phaseMargin : 1 }),
  turns: () => ({ slot: 'crossover', scale: 1, power: 1 }),
})
