import { abs, add, clamp, div, less, mul, primitive, select, sub } from '../graph'
import type { Scalar } from '../graph'
import { polynomial } from './polynomial'

/** ln 2 with 21 trailing zero bits, and the rest. */
export const ln2High = 6.9314718036912381649e-1
export const ln2Low = 1.90821492927058770002e-10

const coefficients = [
  1.66666666666666019037e-1, -2.77777777770155933842e-3, 6.61375632143793436117e-5, -1.6533902205465251539e-6,
  4.13813679705723846039e-8,
]

/**
 * e^x by fdlibm's method (Sun Microsystems, 1993; coefficients as published there, quoted from memory):
 * x = k ln 2 + r, and a rational form of e^r. Error below 1 ulp. Overflows to infinity, underflows gradually to 0.
 */
export function exponential(x: Scalar): Scalar {
  const bounded = clamp(x, -800, 800) // beyond, the result is 0 or infinite anyway
  const k = primitive('nearest', mul(bounded, 1.442695040888963387))
  const high = sub(bounded, mul(k, ln2High))
  const low = mul(k, ln2Low)
  const r = sub(high, low)
  const t = mul(r, r)
  const c = sub(r, mul(t, polynomial(t, coefficients)))
  const value = add(1, add(sub(div(mul(r, c), sub(2, c)), low), high))
  const tiny = less(abs(x), 2 ** -54)
  return select(tiny, add(1, x), timesPowerOfTwo(value, k))
}

/** value 2^k for an integer k from -2044 to 2046, through infinity or gradual underflow as needed. */
export function timesPowerOfTwo(value: Scalar, k: Scalar): Scalar {
  const half = primitive('floor', mul(k, 0.5))
  return mul(mul(value, primitive('powerOfTwo', half)), primitive('powerOfTwo', sub(k, half)))
}
