import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const lostFault = defineFault({
  name: 'lostFault',
  label: 'lost',
  says: 'At {at}, {signal} is lost and reads {instead}, coming over {over}.',
  about: 'Whoever reads the signal gets this number instead.',
  slots: { ...faultSlots, instead: number({ label: 'what is read instead', unit: '', otherwise: 0 }) },
  alters: { step: ({ read }) => ({ value: read('instead') }) },
})
