import { backFromFourier, fourier, powerOfTwoWithin } from './fourier'

/** How alike two signals are where one of them is moved in time. */
export interface Correlation {
  /** s by which the second lags behind the first. */
  readonly lag: Float64Array
  /** -1 to 1 */
  readonly value: Float64Array
  /** The lag at which they are most alike, between samples by a parabola through three, and how alike they are there. */
  readonly best: { readonly lag: number; readonly value: number }
  /** How alike they are as they stand. */
  readonly unmoved: number
}

/**
 * The correlation coefficient of two signals of one rate over lags of at most `most` s, of what of both lies side by side:
 * r(L) = sum (a_k - a')(b_(k+L) - b') / (n sd_a sd_b), with means and deviations over the whole. By Fourier transforms.
 * `undefined` where a signal does not move, or there are fewer than two samples.
 */
export function correlationOf(a: Float64Array, b: Float64Array, rate: number, most: number): Correlation | undefined {
  const [one, other] = [aboutMean(a), aboutMean(b)]
  const [sizeOne, sizeOther] = [normOf(one), normOf(other)]
  if (Math.min(a.length, b.length) < 2 || sizeOne === 0 || sizeOther === 0) return undefined
  const n = 2 * powerOfTwoWithin(2 * Math.max(a.length, b.length) - 1)
  const [x, y] = [padded(one, n), padded(other, n)]
  fourier(x)
  fourier(y)
  for (let k = 0; k < n; k++) {
    const [re, im] = [x.re[k]! * y.re[k]! + x.im[k]! * y.im[k]!, x.re[k]! * y.im[k]! - x.im[k]! * y.re[k]!]
    x.re[k] = re
    x.im[k] = im
  }
  backFromFourier(x)
  const reach = Math.min(Math.floor(most * rate), Math.max(a.length, b.length) - 1)
  const at = (lag: number) => x.re[(lag + n) % n]! / (sizeOne * sizeOther)
  const lags = Array.from({ length: 2 * reach + 1 }, (_, i) => i - reach)
  const value = Float64Array.from(lags, at)
  const top = value.reduce((best, r, i) => (r > value[best]! ? i : best), 0)
  const between = top === 0 || top === value.length - 1 ? 0 : topOfParabola(value[top - 1]!, value[top]!, value[top + 1]!)
  return {
    lag: Float64Array.from(lags, (lag) => lag / rate),
    value,
    best: { lag: (lags[top]! + between) / rate, value: value[top]! },
    unmoved: at(0),
  }
}

/** Where the parabola through three values at -1, 0 and 1 has its top. */
function topOfParabola(before: number, here: number, after: number): number {
  const bend = before - 2 * here + after
  return bend === 0 ? 0 : (before - after) / (2 * bend)
}

function aboutMean(values: Float64Array): Float64Array {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length
  return values.map((value) => value - mean)
}

function normOf(values: Float64Array): number {
  return Math.sqrt(values.reduce((sum, value) => sum + value * value, 0))
}

function padded(values: Float64Array, n: number) {
  const re = new Float64Array(n)
  re.set(values)
  return { re, im: new Float64Array(n) }
}
