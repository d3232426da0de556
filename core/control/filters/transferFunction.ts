import { table } from '../../kinds'
import type { Part } from '../../document'
import type { Filter } from './filter'

const row = (part: Part, slot: 'num' | 'den') => ((part[slot] as number[][])[0] ?? []).map(Number)

/** Any transfer function: num(s)/den(s), one row of coefficients each, highest power first. */
export const anyTransferFunction: Filter = {
  name: 'anyTransferFunction',
  label: 'transfer function',
  says: 'filter by {num} over {den}',
  about: 'num(s)/den(s), coefficients with the highest power first; no more zeros than poles. Sampled by the bilinear rule.',
  slots: {
    num: table({ label: 'numerator', fill: [[1]] }),
    den: table({ label: 'denominator', fill: [[0.1, 1]] }),
  },
  transfer: (part) => ({ num: row(part, 'num'), den: row(part, 'den') }),
  centre: () => 0,
}
