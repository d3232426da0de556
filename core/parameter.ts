import { name, number } from './kinds'
import type { Kind } from './kinds'

/** A number with a name: machines use it in formulas, trials override it, studies vary it, exported code exposes it. */
export const parameter = {
  name: 'parameter',
  says: '{value} {unit}, {meaning}',
  about:
    "A number of the document's own, which any number may use in a formula: '= 2 * armLength'. Its value may be a formula over other parameters.",
  slots: {
    value: number({ label: 'value', unit: '' }),
    unit: name({ label: 'unit', of: 'text' }),
    meaning: name({ label: 'meaning', of: 'text', optional: true }),
    least: number({ label: 'least', unit: '', optional: true }),
    most: number({ label: 'most', unit: '', optional: true }),
  },
} as const satisfies Kind
