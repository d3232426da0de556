import { abs, add, and, atMost, div, equal, less, mul, neg, not, or, primitive, select, square, sub } from '../graph'
import type { Flag, Scalar } from '../graph'
import { timesPowerOfTwo } from './exponential'
import { split } from './logarithm'
import { polynomial } from './polynomial'

const logCoefficients = [
  5.99999999999994648725e-1, 4.28571428578550184252e-1, 3.33333329818377432918e-1, 2.72728123808534006489e-1,
  2.30660745775561754067e-1, 2.06975017800338417784e-1,
]
const expCoefficients = [
  1.66666666666666019037e-1, -2.77777777770155933842e-3, 6.61375632143793436117e-5, -1.6533902205465251539e-6,
  4.13813679705723846039e-8,
]
const ln2 = { whole: 6.93147180559945286227e-1, high: 6.93147182464599609375e-1, low: -1.90465429995776804525e-9 }
/** 2 / (3 ln 2) */
const cp = { whole: 9.61796693925975554329e-1, high: 9.61796700954437255859e-1, low: -7.02846165095275826516e-9 }
/** log2(1.5) */
const log2OfBase = { high: 5.84962487220764160156e-1, low: 1.35003920212974897128e-8 }

/**
 * x^y by fdlibm's method (Sun Microsystems, 1993; coefficients as published there, quoted from memory): log2 of
 * |x| in two parts, times y in two parts, then 2 to that. Error below 1 ulp. The cases of IEEE 754-2019 9.2.1:
 * x^0 = 1 and 1^y = 1 even for NaN, a negative base needs a whole exponent, else NaN.
 */
export function power(x: Scalar, y: Scalar): Scalar {
  const magnitude = positivePower(abs(x), y)
  const whole = equal(primitive('floor', y), y)
  const odd = and(whole, not(equal(primitive('floor', mul(y, 0.5)), mul(y, 0.5))))
  const signed = select(and(isNegative(x), odd), neg(magnitude), magnitude)
  const realOnly = and(and(less(x, 0), less(-Infinity, x)), not(whole))
  const unknown = or(isNotNumber(x), isNotNumber(y))
  const general = select(unknown, NaN, select(realOnly, NaN, signed))
  const plainOne = or(or(equal(x, 1), equal(y, 0)), and(equal(x, -1), equal(abs(y), Infinity)))
  return select(plainOne, 1, general)
}

function positivePower(a: Scalar, y: Scalar): Scalar {
  const grows = less(0, y)
  const atZero = select(grows, 0, Infinity)
  const atInfinity = select(grows, Infinity, 0)
  const yInfinite = equal(abs(y), Infinity)
  const towards = select(less(1, a), atInfinity, atZero)
  const ordinary = and(and(less(0, a), less(a, Infinity)), not(yInfinite))
  const edge = select(yInfinite, towards, select(equal(a, 0), atZero, atInfinity))
  return select(ordinary, ordinaryPower(a, y), edge)
}

/** 0 < a < infinity, y finite. Letters as in the source. */
function ordinaryPower(a: Scalar, y: Scalar): Scalar {
  const { exponent, significand: ax } = split(a, Math.sqrt(3)) // in [0.866, 1.732)
  const upper = not(less(ax, Math.sqrt(1.5))) // then measured from 1.5, else from 1
  const bp = select(upper, 1.5, 1)
  const dpHigh = select(upper, log2OfBase.high, 0)
  const dpLow = select(upper, log2OfBase.low, 0)

  const u = sub(ax, bp)
  const v = div(1, add(ax, bp))
  const ss = mul(u, v)
  const sHigh = primitive('highPart', ss)
  const tHigh = primitive('highPart', add(ax, bp))
  const tLow = sub(ax, sub(tHigh, bp))
  const sLow = mul(v, sub(sub(u, mul(sHigh, tHigh)), mul(sHigh, tLow)))
  const s2 = square(ss)
  const r = add(mul(square(s2), polynomial(s2, logCoefficients)), mul(sLow, add(sHigh, ss)))
  const sHigh2 = square(sHigh)
  const t3High = primitive('highPart', add(add(3, sHigh2), r))
  const t3Low = sub(r, sub(sub(t3High, 3), sHigh2))
  const u3 = mul(sHigh, t3High)
  const v3 = add(mul(sLow, t3High), mul(t3Low, ss))
  const pHigh = primitive('highPart', add(u3, v3))
  const pLow = sub(v3, sub(pHigh, u3))
  const zHigh = mul(cp.high, pHigh)
  const zLow = add(add(mul(cp.low, pHigh), mul(pLow, cp.whole)), dpLow)
  const t1 = primitive('highPart', add(add(add(zHigh, zLow), dpHigh), exponent))
  const t2 = sub(zLow, sub(sub(sub(t1, exponent), dpHigh), zHigh))

  // beyond 2^64 the product overflows or vanishes whatever the rest says; inside, y may be split
  const y1 = primitive('highPart', y)
  const low = add(mul(sub(y, y1), t1), mul(y, t2))
  const high = mul(y1, t1)
  const z = add(low, high)
  const over = less(1025, z)
  const under = less(z, -1080)
  return select(over, Infinity, select(under, 0, powerOfTwo(high, low, or(over, under))))
}

/** 2^(high + low) for sums between -1080 and 1025. */
function powerOfTwo(high: Scalar, low: Scalar, outside: Flag): Scalar {
  const n = select(outside, 0, primitive('nearest', add(low, high)))
  const rest = sub(high, n)
  const t = primitive('highPart', add(low, rest))
  const u = mul(t, ln2.high)
  const v = add(mul(sub(low, sub(t, rest)), ln2.whole), mul(t, ln2.low))
  const z = add(u, v)
  const w = sub(v, sub(z, u))
  const z2 = square(z)
  const t1 = sub(z, mul(z2, polynomial(z2, expCoefficients)))
  const r = sub(div(mul(z, t1), sub(t1, 2)), add(w, mul(z, w)))
  return timesPowerOfTwo(sub(1, sub(r, z)), n)
}

function isNotNumber(x: Scalar): Flag {
  return not(equal(x, x))
}

function isNegative(x: Scalar): Flag {
  return atMost(primitive('copySign', 1, x), -1)
}
