import { mul, neg } from '../../expression'
import { name, number } from '../../kinds'
import { defineFeedforward, forwardSlots } from './feedforward'

export const measuredDisturbance = defineFeedforward({
  name: 'measuredDisturbance',
  label: 'measured disturbance',
  says: 'takes {scale} of {gain} for each unit of {signal} away',
  about:
    'command = -scale x gain x (signal - where it rests): against a disturbance that is read before it acts. The signal must be none that the push moves, or it would be feedback.',
  slots: {
    ...forwardSlots,
    signal: name({ label: 'signal', of: 'held' }),
    gain: number({ label: 'gain', unit: '', otherwise: 0 }),
  },
  needs: 'reference',
  command: ({ away }, _memory, read, part) => ({ command: neg(mul(read('gain'), away(part.signal))), memory: [] }),
})
