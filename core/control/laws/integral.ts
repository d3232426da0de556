import { add, div, less, mul, select } from '../../expression'
import type { Scalar } from '../../expression'
import { choice, number } from '../../kinds'
import type { ValuesOf } from '../../kinds'
import type { LawInputs } from '../law'

/** Slots of laws that sum up the error. */
export const integralSlots = {
  windup: choice({
    label: 'at a limit',
    options: { trackBack: 'the integral tracks back', hold: 'the integral waits', none: 'the integral goes on' },
    otherwise: 'trackBack',
  }),
  tracking: number({ label: 'tracking time', unit: 's', above: 0, most: 1e4, otherwise: 1 }),
} as const

/**
 * The integral at the next sample: I + ki error dt, and at a limit back-calculation, I + excess dt / tracking time, or
 * conditional integration, which waits while it would grow further into the limit.
 * Åström & Hägglund, Advanced PID Control, 2006, ch. 3 (from memory).
 */
export function nextIntegral(
  integral: Scalar,
  ki: Scalar,
  { error, dt, excess }: LawInputs,
  settings: ValuesOf<{ readonly slots: typeof integralSlots }>,
): Scalar {
  const grown = add(integral, mul(mul(ki, dt), error))
  if (excess === 0 || settings.windup === 'none') return grown
  // by what it would grow, not by the error: gains may be negative
  if (settings.windup === 'hold') return select(less(mul(mul(ki, error), excess), 0), integral, grown)
  return add(grown, mul(excess, div(dt, settings.tracking)))
}
