import { complex } from '../../algebra'
import { table } from '../../kinds'
import { tuneByPoles } from '../stateGains'
import { defineTuning } from './tuning'

/** Gains of state feedback follow from where the closed-loop poles shall be. */
export const poleLocations = defineTuning({
  name: 'poleLocations',
  says: 'Put the poles at {poles}.',
  inShort: 'Put the poles where the ledger says.',
  how: 'by pole locations',
  suits: 'signalGains',
  about:
    'The state feedback with these closed-loop poles, one for each signal fed back, of the sampled machine with its lags left out. Continuous poles in rad/s; complex ones in conjugate pairs.',
  slots: {
    poles: table({
      label: 'poles',
      columns: [
        { label: 'real part', unit: 'rad/s' },
        { label: 'imaginary part', unit: 'rad/s' },
      ],
      fill: [[-1, 0]],
    }),
  },
  gains: (model, { poles }) =>
    tuneByPoles(
      model,
      poles.map(([re, im]) => complex(re!, im!)),
    ),
  starts: ({ poles = [[-1, 0]] }) => ({ poles }),
  stays: 'its poles are placed',
})
