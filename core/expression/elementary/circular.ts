import { abs, add, atMost, callIf, div, equal, less, lookup, mul, neg, not, or, primitive, select, square, sub } from '../graph'
import type { Flag, Scalar, SubFunction } from '../graph'
import { polynomial } from './polynomial'
import { twoOverPi } from './twoOverPi'

/**
 * Sine, cosine and tangent: reduction to [-pi/4, pi/4], then the kernels of fdlibm (Sun Microsystems, 1993;
 * coefficients as published there, quoted from memory). Error below 1 ulp for sine and cosine.
 * An infinity gives NaN.
 */
export function sine(x: Scalar): Scalar {
  const { quadrant, high, low } = reduce(x)
  const { odd, upper } = parity(quadrant)
  const value = select(odd, cosineKernel(high, low), sineKernel(high, low))
  // the sine of -0 is -0, which the reduction would lose
  return select(equal(x, 0), x, select(upper, neg(value), value))
}

export function cosine(x: Scalar): Scalar {
  const { quadrant, high, low } = reduce(x)
  const { odd } = parity(quadrant)
  const value = select(odd, sineKernel(high, low), cosineKernel(high, low))
  const negative = or(equal(quadrant, 1), equal(quadrant, 2))
  return select(negative, neg(value), value)
}

export function tangent(x: Scalar): Scalar {
  const { quadrant, high, low } = reduce(x)
  const { odd } = parity(quadrant)
  return select(equal(x, 0), x, tangentKernel(high, low, odd))
}

/** Beyond this the three-part reduction has too few bits of pi; the long one takes over. */
const reductionLimit = 1e6 // rad

const pi2 = [1.57079632673412561417, 6.0771005063039659766e-11, 2.0222662487111664558e-21] as const // 33 bits each
const pi2Tail = 8.47842766036889956997e-32

interface Reduced {
  readonly quadrant: Scalar
  readonly high: Scalar
  readonly low: Scalar
}

/** x = quadrant pi/2 + high + low (mod 2 pi), |high| <= pi/4, quadrant 0 to 3. Cody and Waite, three parts of 33 bits. */
function reduce(x: Scalar): Reduced {
  const huge = not(atMost(abs(x), reductionLimit))
  const n = primitive('nearest', mul(x, 2 / Math.PI))
  const first = sub(x, mul(n, pi2[0]))
  const second = difference(first, mul(n, pi2[1]))
  const third = difference(second.value, mul(n, pi2[2]))
  const rest = sub(add(second.error, third.error), mul(n, pi2Tail))
  const high = add(third.value, rest)
  const low = add(sub(third.value, high), rest)
  return {
    quadrant: callIf(huge, hugeQuadrant, [x], modulo4(n)),
    high: callIf(huge, hugeHigh, [x], high),
    low: callIf(huge, hugeLow, [x], low),
  }
}

/** a - b and what rounding took away, exactly (Knuth's two-sum). */
function difference(a: Scalar, b: Scalar): { value: Scalar; error: Scalar } {
  const value = sub(a, b)
  const part = sub(value, a)
  return { value, error: sub(sub(a, sub(value, part)), add(b, part)) }
}

function parity(quadrant: Scalar): { odd: Flag; upper: Flag } {
  return { odd: or(equal(quadrant, 1), equal(quadrant, 3)), upper: or(equal(quadrant, 2), equal(quadrant, 3)) }
}

function modulo4(n: Scalar): Scalar {
  return sub(n, mul(4, primitive('floor', mul(n, 0.25))))
}

/**
 * Payne and Hanek's reduction for huge arguments, in doubles. x = s 2^shift 2^(24 skip) with s of three 24-bit
 * digits; 2/pi is a table of 24-bit digits; products of digits are exact; columns from 2^24 up are whole turns
 * and never formed. M. Payne and R. Hanek, Radian Reduction for Trigonometric Functions, SIGNUM Newsletter 18, 1983.
 */
function reduceHuge(x: Scalar): Reduced {
  const scaleExponent = sub(primitive('exponent', x), 52)
  const skip = primitive('floor', div(scaleExponent, 24))
  const scale = primitive('powerOfTwo', sub(scaleExponent, mul(24, skip)))
  const digits = productDigits(significandDigits(x), skip)

  const whole = modulo4(mul(scale, digits[0]!))
  const upper = modulo4(add(whole, modulo4(mul(scale, mul(digits[1]!, 2 ** -24)))))
  const nearby = add(upper, mul(scale, mul(digits[2]!, 2 ** -48))) // exact: 51 bits
  const n = primitive('nearest', nearby)
  let high = sub(nearby, n)
  let low: Scalar = 0
  for (let k = 3; k < digits.length; k++) {
    const next = difference(high, mul(scale, mul(digits[k]!, -(2 ** (-24 * k)))))
    high = next.value
    low = add(low, next.error)
  }
  const turned = timesHalfPi(high, low)
  const negative = less(x, 0)
  const notFinite = primitive('subtract', x, x) // NaN for an infinity or NaN, which must not give a number; else 0
  return {
    quadrant: modulo4(select(negative, neg(n), n)),
    high: primitive('add', select(negative, neg(turned.high), turned.high), notFinite),
    low: select(negative, neg(turned.low), turned.low),
  }
}

/** The 53 bits of the significand as digits of 24 bits, least significant first. */
function significandDigits(x: Scalar): Scalar[] {
  const integer = mul(primitive('significand', x), 2 ** 52)
  const top = primitive('floor', mul(integer, 2 ** -48))
  const rest = sub(integer, mul(top, 2 ** 48))
  const middle = primitive('floor', mul(rest, 2 ** -24))
  return [sub(rest, mul(middle, 2 ** 24)), middle, top]
}

/** Digits of weight 2^0, 2^-24, ... 2^-192 of s 2^(24 skip) times 2/pi. */
function productDigits(s: readonly Scalar[], skip: Scalar): Scalar[] {
  const columns = Array.from({ length: 9 }, (_, k) =>
    s.map((digit, i) => mul(digit, pieceOf2OverPi(add(skip, i + k - 1)))).reduce((a, b) => add(a, b)),
  )
  let carry: Scalar = 0
  const digits: Scalar[] = []
  for (let k = columns.length - 1; k >= 0; k--) {
    const total = add(columns[k]!, carry)
    carry = primitive('floor', mul(total, 2 ** -24))
    digits[k] = sub(total, mul(carry, 2 ** 24))
  }
  return digits
}

function pieceOf2OverPi(index: Scalar): Scalar {
  return select(less(index, 0), 0, lookup(twoOverPi, index))
}

function timesHalfPi(high: Scalar, low: Scalar): { high: Scalar; low: Scalar } {
  const fraction = add(high, low)
  const fractionTail = add(sub(high, fraction), low)
  const top = primitive('highPart', fraction)
  const bottom = add(sub(fraction, top), fractionTail)
  const piTop = primitive('highPart', pi2[0])
  const product = mul(top, piTop) // exact: 21 by 21 bits
  const rest = add(add(mul(top, sub(pi2[0], piTop)), mul(bottom, Math.PI / 2)), mul(top, 6.07710050650619224932e-11))
  const sum = add(product, rest)
  return { high: sum, low: add(sub(product, sum), rest) }
}

const hugeQuadrant: SubFunction = { name: 'hugeQuadrant', arity: 1, body: (x) => reduceHuge(x!).quadrant }
const hugeHigh: SubFunction = { name: 'hugeHigh', arity: 1, body: (x) => reduceHuge(x!).high }
const hugeLow: SubFunction = { name: 'hugeLow', arity: 1, body: (x) => reduceHuge(x!).low }

const sineCoefficients = [
  8.33333333332248946124e-3, -1.98412698298579493134e-4, 2.75573137070700676789e-6, -2.50507602534068634195e-8,
  1.58969099521155010221e-10,
]

function sineKernel(x: Scalar, tail: Scalar): Scalar {
  const z = square(x)
  const r = polynomial(z, sineCoefficients)
  const v = mul(z, x)
  return sub(x, sub(sub(mul(z, sub(mul(0.5, tail), mul(v, r))), tail), mul(v, -1.66666666666666324348e-1)))
}

const cosineCoefficients = [
  4.16666666666666019037e-2, -1.38888888888741095749e-3, 2.48015872894767294178e-5, -2.75573143513906633035e-7,
  2.0875723212981748279e-9, -1.13596475577881948265e-11,
]

function cosineKernel(x: Scalar, tail: Scalar): Scalar {
  const z = square(x)
  const r = mul(z, polynomial(z, cosineCoefficients))
  const half = mul(0.5, z)
  const w = sub(1, half)
  return add(w, add(sub(sub(1, w), half), sub(mul(z, r), mul(x, tail))))
}

const tangentCoefficients = [
  1.33333333333201242699e-1, 5.39682539762260521377e-2, 2.18694882948595424599e-2, 8.86323982359930005737e-3,
  3.59207910759131235356e-3, 1.45620945432529025516e-3, 5.88041240820264096874e-4, 2.46463134818469906812e-4,
  7.817944429395570923e-5, 7.14072491382608190305e-5, -1.85586374855275456654e-5, 2.59073051863633712884e-5,
]

/** tan(x + tail), or -1/tan(x + tail) where `inverse` holds. */
function tangentKernel(x0: Scalar, tail0: Scalar, inverse: Flag): Scalar {
  const big = not(less(abs(x0), 0.67434)) // near pi/4 the complement loses less
  const flip = less(x0, 0)
  const xPositive = select(flip, neg(x0), x0)
  const tailPositive = select(flip, neg(tail0), tail0)
  const complement = add(sub(7.85398163397448278999e-1, xPositive), sub(3.06161699786838301793e-17, tailPositive))
  const x = select(big, complement, x0)
  const y = select(big, 0, tail0)
  const z = square(x)
  const s = mul(z, x)
  const r0 = polynomial(z, tangentCoefficients)
  const r = add(add(y, mul(z, add(mul(s, r0), y))), mul(s, 3.33333333333334091986e-1))
  const w = add(x, r)
  const v = select(inverse, -1, 1)
  const sign = select(flip, -1, 1)
  const nearQuarter = mul(sign, sub(v, mul(2, sub(x, sub(div(square(w), add(w, v)), r)))))
  // -1/(x + r) with the rounding of both put back
  const wHigh = primitive('highPart', w)
  const rest = sub(r, sub(wHigh, x))
  const a = div(-1, w)
  const aHigh = primitive('highPart', a)
  const reciprocal = add(aHigh, mul(a, add(add(1, mul(aHigh, wHigh)), mul(aHigh, rest))))
  return select(big, nearQuarter, select(inverse, reciprocal, w))
}
