import { add, div, exp, mul, neg, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { wrapped } from '../../algebra'
import { name, number } from '../../kinds'
import type { Kind } from '../../kinds'

/** A lag on what is read of one quantity, for machines of every kind. */
export const lowPassEstimator = {
  name: 'lowPassEstimator',
  label: 'low-pass',
  says: 'smooths {signal} below {corner}, {rate#} times a second',
  about:
    'x follows what is read in a first-order lag, sampled exactly: x = x + (1 - e^(-corner dt)) (y - x). How fast x moves is its estimate of the rate, where the quantity has one. It reads the sensor of the quantity where there is one, and lags by about one over its corner: what a loop then keeps stands beside its margins. Of several estimates of one quantity this one counts.',
  slots: {
    machine: name({ label: 'machine', of: 'machine' }),
    signal: name({ label: 'signal', of: 'held' }),
    corner: number({ label: 'corner', unit: 'rad/s', above: 0, most: 1e5, otherwise: 20 }),
    rate: number({ label: 'rate', unit: 'Hz', above: 0, most: 10000, otherwise: 100 }),
  },
} as const satisfies Kind & { readonly label: string }

export interface LowPassInputs {
  readonly read: Scalar
  /** rad/s */
  readonly corner: Scalar
  /** s */
  readonly dt: number
  /** An angle that goes round is followed the short way. */
  readonly goesRound: boolean
}

/** One sample: where the estimate moves to, and how fast it moves. */
export function lowPassStep(
  estimate: Scalar,
  { read, corner, dt, goesRound }: LowPassInputs,
): { readonly estimate: Scalar; readonly rate: Scalar } {
  const share = sub(1, exp(neg(mul(corner, dt))))
  const away = sub(read, estimate)
  const change = mul(share, goesRound ? wrapped(away) : away)
  const moved = add(estimate, change)
  return { estimate: goesRound ? wrapped(moved) : moved, rate: div(change, dt) }
}
