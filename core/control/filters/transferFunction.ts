import { table } from '../../kinds'
import type { FilterValues } from './filter'
import { defineFilter } from './filter'

const row = (values: FilterValues, slot: 'num' | 'den') => (values[slot] as number[][])[0] ?? []

/** Any transfer function: num(s)/den(s), one row of coefficients each, highest power first. */
export const anyTransferFunction = defineFilter({
  name: 'anyTransferFunction',
  label: 'transfer function',
  says: 'filter by {num} over {den}',
  about: 'num(s)/den(s), coefficients with the highest power first; no more zeros than poles. Sampled by the bilinear rule.',
  slots: {
    num: table({ label: 'numerator', fill: [[1]] }),
    den: table({ label: 'denominator', fill: [[0.1, 1]] }),
  },
  transfer: (values) => ({ num: row(values, 'num'), den: row(values, 'den') }),
  centre: () => 0,
})
