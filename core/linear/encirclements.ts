import { overComplex } from '../algebra'
import type { Complex } from '../algebra'
import { atan2 } from '../expression'
import type { FrequencyFunction } from './margins'

/**
 * Closed-loop poles in the right half plane, by Nyquist's criterion, for loops whose delay leaves no finite set of
 * poles: Z = P + m/2 - (turn of 1 + L from 0 to infinity)/pi, with P open-loop poles on the right and m at the origin.
 * The loop must be strictly proper and have no other poles on the axis. `grid` must be fine beside every resonance.
 */
export function unstableClosedPoles(
  loop: FrequencyFunction,
  grid: readonly number[],
  openUnstable: number,
  atOrigin: number,
): number {
  const shifted: Complex[] = grid
    .map((w) => loop(w))
    .filter((value) => value !== undefined)
    .map(({ re, im }) => ({ re: re + 1, im }))
  let turn = 0
  for (let i = 1; i < shifted.length; i++) {
    const quotient = overComplex(shifted[i]!, shifted[i - 1]!)
    turn += atan2(quotient.im, quotient.re)
  }
  return Math.round(openUnstable + atOrigin / 2 - turn / Math.PI) + 0 // never -0
}
