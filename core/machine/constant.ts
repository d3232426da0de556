import { name, number } from '../kinds'
import type { Kind } from '../kinds'

/** A number of a machine that its formulas use by name. Parameters of the document need not be listed. */
export const constant = {
  name: 'constant',
  says: 'is {value} {unit}',
  about: 'A number that the formulas of its machine use by name; the parameters of the document are known to them as well.',
  slots: { value: number({ label: 'value', unit: '' }), unit: name({ label: 'unit', of: 'text', optional: true }) },
} as const satisfies Kind
