import { add, div, floor, mul } from '../../../expression'
import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const coarseFault = defineFault({
  name: 'coarseFault',
  label: 'coarse',
  says: 'At {at}, {signal} comes in steps of {step}.',
  about: 'Whoever reads the signal gets the nearest whole number of steps.',
  slots: { at: faultSlots.at, signal: faultSlots.signal, step: number({ label: 'step', unit: '', above: 0, otherwise: 0.1 }) },
  alters: {
    step: ({ value, read }) => ({ value: mul(read('step'), floor(add(div(value, read('step')), 0.5))) }),
  },
})
