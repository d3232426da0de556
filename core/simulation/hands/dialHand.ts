import { name, number } from '../../kinds'
import { defineHand, handSlots } from './hand'

export const dialHand = defineHand({
  name: 'dialHand',
  label: 'dial of a gain',
  says: 'It turns {gain} from {least} to {most} of what it is designed to be. Keys {less} and {more}.',
  about: 'A gain of a loop, as a share of its designed or typed value, changes while the trial runs; it stays where it is put.',
  slots: {
    gain: name({ label: 'gain', of: 'gain' }),
    least: number({ label: 'least', unit: '', otherwise: 0 }),
    most: number({ label: 'most', unit: '', otherwise: 2 }),
    less: handSlots.key('for less'),
    more: handSlots.key('for more'),
  },
  axes: () => ({}),
  turns: ({ gain }) => gain,
  keys: [
    { slot: 'less', axis: 'up', to: -1 },
    { slot: 'more', axis: 'up', to: 1 },
  ],
  sticks: [],
})
