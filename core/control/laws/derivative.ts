import { add, div, mul, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { number } from '../../kinds'
import type { ValuesOf } from '../../kinds'
import type { LawInputs } from '../law'

/** Slots of laws that differentiate what they read themselves. */
export const derivativeSlots = {
  setPointWeight: number({ label: 'set-point weight', unit: '', least: 0, most: 2, otherwise: 1 }),
  derivativeWeight: number({
    label: 'set-point weight of the rate',
    unit: '',
    least: 0,
    most: 1,
    otherwise: 0,
    note: '0: rate of what is read; 1: rate of the error',
  }),
  filterTime: number({ label: 'filter time of the rate', unit: 's', least: 0, most: 100, otherwise: 0.02 }),
} as const

/** The error as the proportional term weighs it: weight reference - measured. */
export function weighed({ error, reference }: LawInputs, weight: Scalar): Scalar {
  return sub(error, mul(sub(1, weight), reference))
}

/**
 * The filtered rate of weight reference - measured, by backward differences: d = (T d before + difference) / (T + dt).
 * Åström & Wittenmark, Computer-Controlled Systems, 3rd ed., section 8.5 (from memory).
 */
export function filteredRate(
  inputs: LawInputs,
  [before, seen]: readonly [before: Scalar, seen: Scalar],
  settings: ValuesOf<{ readonly slots: typeof derivativeSlots }>,
): { readonly rate: Scalar; readonly memory: readonly Scalar[] } {
  const now = weighed(inputs, settings.derivativeWeight)
  const filterTime = settings.filterTime
  const rate = div(add(mul(filterTime, before), sub(now, seen)), add(filterTime, inputs.dt))
  return { rate, memory: [rate, now] }
}
