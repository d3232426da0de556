import { mul } from '../../../expression'
import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const scaledFault = defineFault({
  name: 'scaledFault',
  label: 'scaled',
  says: 'At {at}, {signal} is read as {factor} times itself, coming over {over}.',
  about: 'A wrong scale: whoever reads the signal gets it times a factor.',
  slots: { ...faultSlots, factor: number({ label: 'factor', unit: '', otherwise: 0.5 }) },
  alters: { step: ({ value, read }) => ({ value: mul(value, read('factor')) }) },
})
