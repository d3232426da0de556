import { number } from '../../kinds'
import { ownFrequency } from './filter'
import type { Filter } from './filter'

/** (s + w)/(s + w/r): r times the gain of slow signals, none more of fast ones. */
export const lag: Filter = {
  name: 'lag',
  label: 'lag',
  says: 'strengthen what is slower than {frequency} {factor} times',
  about:
    '(s + w)/(s + w/r): r times the gain at rest, 1 far above w. Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, ch. 6 (from memory).',
  slots: {
    frequency: ownFrequency.slot,
    factor: number({ label: 'factor at rest', unit: '', above: 1, most: 1000 }),
  },
  transfer: ({ frequency, factor }) => {
    const [w, r] = [frequency as number, factor as number]
    return { num: [1, w], den: [1, w / r] }
  },
  centre: ownFrequency.centre,
}
