import { number, table } from '../../kinds'
import { tuneByWeights } from '../stateGains'
import { defineTuning } from './tuning'

/** Gains of state feedback follow from what may deviate, and by how much at most. */
export const weights = defineTuning({
  name: 'weights',
  says: 'Weigh every signal by the most that it may deviate, the command by {most}.',
  inShort: 'Weigh each signal by what it may deviate, the command by {most}.',
  how: 'by what may deviate',
  suits: 'signalGains',
  about:
    'The state feedback with the least sum of squares, each signal over its largest acceptable deviation, the command over its own: Bryson & Ho, Applied Optimal Control, 1975 (from memory). The sampled machine with its hold is weighed, its lags left out; the margins count everything.',
  slots: {
    deviations: table({
      label: 'largest acceptable deviations',
      columns: [{ label: 'deviation', unit: '' }],
      fill: [[1]],
      note: 'what is held first, then each signal in its order',
    }),
    most: number({ label: 'largest acceptable command', unit: '', above: 0 }),
    integral: number({ label: 'largest acceptable integral of the error', unit: '', above: 0, otherwise: 1 }),
  },
  gains: (model, { deviations, most, integral }) =>
    tuneByWeights(model, { deviations: deviations.map((row) => row[0]!), most, integral }),
  starts: ({ deviations }) => ({ deviations: deviations.map((one) => [one]), most: 1, integral: 1 }),
  // the crossover goes about as the root of it: common practice for what integrates twice, no source
  turns: ({ most }, crossover) =>
    crossover === undefined ? undefined : { slot: 'most', scale: most / crossover ** 2, power: 2 },
})
