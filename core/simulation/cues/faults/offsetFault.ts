import { add } from '../../../expression'
import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const offsetFault = defineFault({
  name: 'offsetFault',
  label: 'offset',
  says: 'At {at}, {signal} is read {by} too high, coming over {over}.',
  about: 'A bias: whoever reads the signal gets it with this added.',
  slots: { ...faultSlots, by: number({ label: 'offset', unit: '' }) },
  alters: { step: ({ value, read }) => ({ value: add(value, read('by')) }) },
})
