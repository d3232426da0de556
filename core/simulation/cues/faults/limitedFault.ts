import { clamp } from '../../../expression'
import { number } from '../../../kinds'
import { defineFault, faultSlots } from './fault'

export const limitedFault = defineFault({
  name: 'limitedFault',
  label: 'limited sooner',
  says: 'At {at}, {signal} stays between {least} and {most}.',
  about: 'Whoever reads the signal gets nothing beyond these ends.',
  slots: {
    at: faultSlots.at,
    signal: faultSlots.signal,
    least: number({ label: 'least', unit: '', otherwise: -1 }),
    most: number({ label: 'most', unit: '', otherwise: 1 }),
  },
  problems: (where, { least = -1, most = 1 }) =>
    least <= most
      ? []
      : [{ where: `${where}.least`, what: `The least, ${least}, lies over the most, ${most}.`, remedy: 'Exchange them.' }],
  alters: { step: ({ value, read }) => ({ value: clamp(value, read('least'), read('most')) }) },
})
