import { number } from '../../kinds'
import { defineFilter, ownFrequency } from './filter'

/** (s + w)/(s + w/r): r times the gain of slow signals, none more of fast ones. */
export const lag = defineFilter({
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
    const [w, r] = [frequency, factor]
    return { num: [1, w], den: [1, w / r] }
  },
  centre: ownFrequency.centre,
})
