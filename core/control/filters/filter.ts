import type { Part } from '../../document'
import type { Kind } from '../../kinds'

/** A linear filter between a law and what it pushes, written as a continuous transfer function. */
export interface Filter extends Kind {
  readonly label: string
  /** Descending powers of s; no more zeros than poles. */
  readonly transfer: (part: Part) => { readonly num: readonly number[]; readonly den: readonly number[] }
  /** rad/s: where sampling must leave the response as it is; below half the sample rate. */
  readonly centre: (part: Part) => number
}
