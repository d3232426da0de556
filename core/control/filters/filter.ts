import { number } from '../../kinds'
import type { Kind } from '../../kinds'

/** What a filter's slots hold, those left out filled in. */
export type FilterValues = Readonly<Record<string, unknown>>

/** A linear filter between a law and what it pushes, written as a continuous transfer function. */
export interface Filter extends Kind {
  readonly label: string
  /** Descending powers of s; no more zeros than poles. */
  readonly transfer: (values: FilterValues) => { readonly num: readonly number[]; readonly den: readonly number[] }
  /** rad/s: where sampling must leave the response as it is; below half the sample rate. 0 where it has none of its own. */
  readonly centre: (values: FilterValues) => number
}

/** The frequency about which a filter is made, and that as its centre. */
export const ownFrequency = {
  slot: number({ label: 'frequency', unit: 'rad/s', above: 0, most: 1e5 }),
  centre: ({ frequency }: FilterValues) => frequency as number,
}
