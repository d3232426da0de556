import { abs, add, and, div, equal, less, mul, not, or, primitive, select, sqrt, square, sub } from '../graph'
import type { Scalar } from '../graph'
import { polynomial } from './polynomial'

const coefficients = [
  3.33333333333329318027e-1, -1.99999999998764832476e-1, 1.42857142725034663711e-1, -1.1111110405462355788e-1,
  9.09088713343650656196e-2, -7.69187620504482999495e-2, 6.66107313738753120669e-2, -5.83357013379057348645e-2,
  4.97687799461593236017e-2, -3.6531572744216915527e-2, 1.62858201153657823623e-2,
]
/** arctangents of 0.5, 1, 1.5 and infinity, in two parts */
const high = [0.4636476090008061, 7.85398163397448278999e-1, 9.82793723247329054082e-1, 1.5707963267948966]
const low = [2.2698777452961687e-17, 3.06161699786838301793e-17, 1.39033110312309984516e-17, 6.12323399573676603587e-17]
const piLow = 1.2246467991473532e-16

/**
 * Arctangent by fdlibm's method (Sun Microsystems, 1993; coefficients as published there, quoted from memory).
 * Error below 1 ulp.
 */
export function arctangent(x: Scalar): Scalar {
  return primitive('copySign', positiveArctangent(abs(x)), x)
}

/** Angle of the point (x, y), in (-pi, pi]; the cases of IEEE 754-2019 9.2.1. Error below 2 ulp. */
export function arctangent2(y: Scalar, x: Scalar): Scalar {
  const ax = abs(x)
  const ay = abs(y)
  const bothInfinite = and(equal(ax, Infinity), equal(ay, Infinity))
  const bothZero = and(equal(ax, 0), equal(ay, 0))
  const ratio = select(bothInfinite, 1, select(bothZero, 0, div(ay, ax)))
  const base = positiveArctangent(ratio)
  const left = less(primitive('copySign', 1, x), 0)
  const angle = select(left, sub(Math.PI, sub(base, piLow)), base)
  const unknown = or(not(equal(x, x)), not(equal(y, y)))
  return select(unknown, NaN, primitive('copySign', angle, y))
}

/** NaN outside [-1, 1]. The difference of squares is taken as a product, which keeps its digits near 1. */
export function arcsine(x: Scalar): Scalar {
  return arctangent2(x, sqrt(mul(sub(1, x), add(1, x))))
}

export function arccosine(x: Scalar): Scalar {
  return arctangent2(sqrt(mul(sub(1, x), add(1, x))), x)
}

function positiveArctangent(x: Scalar): Scalar {
  const below = [less(x, 0.4375), less(x, 0.6875), less(x, 1.1875), less(x, 2.4375)]
  const pick = (values: readonly Scalar[]): Scalar =>
    select(
      below[0]!,
      values[0]!,
      select(below[1]!, values[1]!, select(below[2]!, values[2]!, select(below[3]!, values[3]!, values[4]!))),
    )
  const numerator = pick([x, sub(mul(2, x), 1), sub(x, 1), sub(x, 1.5), -1])
  const denominator = pick([1, add(2, x), add(x, 1), add(1, mul(1.5, x)), x])
  const t = div(numerator, denominator)
  const z = square(t)
  const series = mul(t, mul(z, polynomial(z, coefficients)))
  const value = sub(pick([0, ...high]), sub(sub(series, pick([0, ...low])), t))
  return select(below[0]!, sub(t, series), value)
}
