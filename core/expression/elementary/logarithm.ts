import { add, and, atMost, div, equal, less, mul, not, primitive, select, square, sub } from '../graph'
import type { Scalar } from '../graph'
import { ln2High, ln2Low } from './exponential'
import { polynomial } from './polynomial'

const coefficients = [
  6.66666666666673513e-1, 3.999999999940941908e-1, 2.857142874366239149e-1, 2.222219843214978396e-1, 1.818357216161805012e-1,
  1.531383769920937332e-1, 1.479819860511658591e-1,
]

/**
 * Natural logarithm by fdlibm's method (Sun Microsystems, 1993; coefficients as published there, quoted from
 * memory). Error below 1 ulp. 0 gives -infinity, a negative number NaN.
 */
export function logarithm(x: Scalar): Scalar {
  const { exponent, significand } = split(x, Math.SQRT2)
  const f = sub(significand, 1)
  const s = div(f, add(2, f))
  const z = square(s)
  const r = mul(z, polynomial(z, coefficients))
  const half = mul(0.5, square(f))
  const correction = add(mul(s, add(half, r)), mul(exponent, ln2Low))
  const value = add(mul(exponent, ln2High), sub(f, sub(half, correction)))
  const ordinary = and(less(0, x), less(x, Infinity))
  const edge = select(equal(x, 0), -Infinity, select(less(x, 0), NaN, x))
  return select(ordinary, value, edge)
}

/** x = 2^exponent significand for x > 0, subnormal or not, with significand in [most / 2, most). */
export function split(x: Scalar, most: number): { exponent: Scalar; significand: Scalar } {
  const subnormal = less(x, 2 ** -1022)
  const normal = select(subnormal, mul(x, 2 ** 54), x)
  const m = primitive('significand', normal)
  const above = not(atMost(m, most))
  const e = sub(primitive('exponent', normal), select(subnormal, 54, 0))
  return { exponent: add(e, select(above, 1, 0)), significand: mul(m, select(above, 0.5, 1)) }
}
