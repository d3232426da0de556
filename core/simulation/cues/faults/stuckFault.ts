import { select } from '../../../expression'
import { defineFault, faultSlots } from './fault'

export const stuckFault = defineFault({
  name: 'stuckFault',
  label: 'stuck',
  says: 'At {at}, {signal} sticks at its last value.',
  about: 'Whoever reads the signal gets the last value that it had before.',
  slots: { at: faultSlots.at, signal: faultSlots.signal },
  alters: {
    memory: () => 1,
    step: ({ value, isOn, memory: [held] }) => ({ value: held!, memory: [select(isOn, held!, value)] }),
  },
})
