import { assert } from '../document'
import { cos, sin } from '../expression'

/** Real and imaginary parts, in place. */
export interface ComplexArrays {
  readonly re: Float64Array
  readonly im: Float64Array
}

/** The cosines and sines of a length, which is asked for again and again. */
const known = new Map<number, ComplexArrays>()

/**
 * X_k = sum over n of x_n e^(-2 pi i k n / N), in place; N a power of two. J. W. Cooley, J. W. Tukey, An Algorithm for the
 * Machine Calculation of Complex Fourier Series, Math. Comp. 19 (1965): halves from the shortest up, after sorting by
 * reversed bits. Cosines are the engine's own: the same bits on every machine.
 */
export function fourier({ re, im }: ComplexArrays): void {
  const n = re.length
  assert(n > 0 && (n & (n - 1)) === 0, 'A Fourier transform takes a power of two of samples.')
  sortByReversedBits(re, im)
  const turns = turnsOf(n)
  for (let size = 2; size <= n; size *= 2) {
    const [half, apart] = [size / 2, n / size]
    for (let start = 0; start < n; start += size)
      for (let k = 0; k < half; k++) {
        const [c, s] = [turns.re[k * apart]!, turns.im[k * apart]!]
        const [i, j] = [start + k, start + k + half]
        const [x, y] = [re[j]! * c - im[j]! * s, re[j]! * s + im[j]! * c]
        re[j] = re[i]! - x
        im[j] = im[i]! - y
        re[i]! += x
        im[i]! += y
      }
  }
}

/** The way back: x_n = 1/N sum over k of X_k e^(2 pi i k n / N), in place. */
export function backFromFourier({ re, im }: ComplexArrays): void {
  // with the parts exchanged the one is the other
  fourier({ re: im, im: re })
  const scale = 1 / re.length
  for (let k = 0; k < re.length; k++) {
    re[k]! *= scale
    im[k]! *= scale
  }
}

/** The largest power of two that is no more. */
export function powerOfTwoWithin(count: number): number {
  let power = 1
  while (2 * power <= count) power *= 2
  return power
}

function turnsOf(n: number): ComplexArrays {
  let turns = known.get(n)
  if (turns === undefined) {
    const angle = (k: number) => (-2 * Math.PI * k) / n
    turns = {
      re: Float64Array.from({ length: n / 2 }, (_, k) => cos(angle(k))),
      im: Float64Array.from({ length: n / 2 }, (_, k) => sin(angle(k))),
    }
    known.set(n, turns)
  }
  return turns
}

function sortByReversedBits(re: Float64Array, im: Float64Array): void {
  const n = re.length
  for (let i = 1, j = 0; i < n; i++) {
    let bit = n >> 1
    for (; (j & bit) !== 0; bit >>= 1) j ^= bit
    j ^= bit
    if (i >= j) continue
    ;[re[i], re[j]] = [re[j]!, re[i]!]
    ;[im[i], im[j]] = [im[j]!, im[i]!]
  }
}
