import { add, max, mul } from '../../../expression'
import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const driftingFault = defineFault({
  name: 'driftingFault',
  label: 'drifting',
  says: 'From {at}, {signal} is read {rate} higher with every second.',
  about: 'A bias that grows at a steady rate from the moment it begins.',
  slots: { at: faultSlots.at, signal: faultSlots.signal, rate: number({ label: 'drift in a second', unit: '' }) },
  alters: { step: ({ value, read, since }) => ({ value: add(value, mul(read('rate'), max(since, 0))) }) },
})
