import { eigenvalues } from '../algebra'
import type { Complex, Matrix } from '../algebra'

/** Poles, or the eigenvalues of a matrix, as [re, im] in one order, so that sets compare. */
export function sortedPoles(of: readonly Complex[] | Matrix): number[][] {
  const isMatrix = (value: readonly Complex[] | Matrix): value is Matrix => Array.isArray(value[0])
  const all = isMatrix(of) ? eigenvalues(of)! : of
  return all.map(({ re, im }) => [re, im]).sort(([a, b], [c, d]) => (Math.abs(a! - c!) > 1e-6 ? a! - c! : b! - d!))
}
