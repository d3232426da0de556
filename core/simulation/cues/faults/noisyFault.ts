import { add, mul } from '../../../expression'
import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const noisyFault = defineFault({
  name: 'noisyFault',
  label: 'noisy',
  says: 'At {at}, {signal} gets noise with a deviation of {deviation}, coming over {over}.',
  about: 'A normal random number is added to each sample, independent of the others; repeatable by the seed of the trial.',
  slots: { ...faultSlots, deviation: number({ label: 'standard deviation', unit: '', least: 0 }) },
  alters: { step: ({ value, read, random }) => ({ value: add(value, mul(read('deviation'), random())) }) },
})
