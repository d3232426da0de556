import { number } from '../../kinds'
import type { Kind, OfOwn, Slots, ValuesOf } from '../../kinds'

/** What a filter's slots hold, those left out filled in. */
export type FilterValues = Readonly<Record<string, unknown>>

/** A linear filter between a law and what it pushes, written as a continuous transfer function. */
export interface Filter<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  /** Descending powers of s; no more zeros than poles. */
  readonly transfer: OfOwn<[values: ValuesOf<Kind<S>>], { readonly num: readonly number[]; readonly den: readonly number[] }>
  /** rad/s: where sampling must leave the response as it is; below half the sample rate. 0 where it has none of its own. */
  readonly centre: OfOwn<[values: ValuesOf<Kind<S>>], number>
}

export function defineFilter<const S extends Slots>(kind: Filter<S>): Filter<S> {
  return kind
}

/** The frequency about which a filter is made, and that as its centre. */
export const ownFrequency = {
  slot: number({ label: 'frequency', unit: 'rad/s', above: 0, most: 1e5 }),
  centre: ({ frequency }: { readonly frequency: number }) => frequency,
}
