import { complex, hessenbergForm, multiply, transpose } from '../algebra'
import type { Complex } from '../algebra'
import type { StateSpace } from './stateSpace'

/** response[output][input] at the complex frequency s (or z); `undefined` at a pole. */
export type Responder = (s: Complex) => Complex[][] | undefined

/**
 * The response of a system at many frequencies: its states are turned once so that a is Hessenberg, then each frequency costs
 * n² instead of n³. A. J. Laub, IEEE Transactions on Automatic Control 26 (1981).
 */
export function responder(system: StateSpace): Responder {
  const n = system.a.length
  const { h, q } = hessenbergForm(system.a)
  const b = n === 0 ? [] : multiply(transpose(q), system.b)
  const c = n === 0 ? [] : multiply(system.c, q)
  const inputs = system.d[0]?.length ?? 0
  const flat = Float64Array.from(h.flat())
  // rows of s - h with their right sides behind, real and imaginary parts
  const width = n + inputs
  const re = new Float64Array(n * width)
  const im = new Float64Array(n * width)
  return (s) => {
    for (let i = 0; i < n; i++) {
      for (let j = Math.max(0, i - 1); j < n; j++) {
        re[i * width + j] = (i === j ? s.re : 0) - flat[i * n + j]!
        im[i * width + j] = i === j ? s.im : 0
      }
      for (let j = 0; j < inputs; j++) {
        re[i * width + n + j] = b[i]![j]!
        im[i * width + n + j] = 0
      }
    }
    if (!eliminated(re, im, n, width)) return undefined
    return system.d.map((direct, row) =>
      direct.map((value, j) => {
        let [x, y] = [value, 0]
        for (let k = 0; k < n; k++) {
          x += c[row]![k]! * re[k * width + n + j]!
          y += c[row]![k]! * im[k * width + n + j]!
        }
        return complex(x, y)
      }),
    )
  }
}

/** Solves in place: the right sides become the answer. False where a pivot vanishes. */
function eliminated(re: Float64Array, im: Float64Array, n: number, width: number): boolean {
  for (let j = 0; j < n - 1; j++) {
    const [own, next] = [j * width, (j + 1) * width]
    if (Math.abs(re[next + j]!) + Math.abs(im[next + j]!) > Math.abs(re[own + j]!) + Math.abs(im[own + j]!))
      for (let k = j; k < width; k++) {
        const [x, y] = [re[own + k]!, im[own + k]!]
        re[own + k] = re[next + k]!
        im[own + k] = im[next + k]!
        re[next + k] = x
        im[next + k] = y
      }
    const [pr, pi] = [re[own + j]!, im[own + j]!]
    const size = pr * pr + pi * pi
    if (!(size > 0)) return false
    const [nr, ni] = [re[next + j]!, im[next + j]!]
    const fr = (nr * pr + ni * pi) / size
    const fi = (ni * pr - nr * pi) / size
    if (fr === 0 && fi === 0) continue
    for (let k = j; k < width; k++) {
      re[next + k] = re[next + k]! - (fr * re[own + k]! - fi * im[own + k]!)
      im[next + k] = im[next + k]! - (fr * im[own + k]! + fi * re[own + k]!)
    }
  }
  for (let i = n - 1; i >= 0; i--) {
    const own = i * width
    const [pr, pi] = [re[own + i]!, im[own + i]!]
    const size = pr * pr + pi * pi
    if (!(size > 0)) return false
    for (let j = n; j < width; j++) {
      let [x, y] = [re[own + j]!, im[own + j]!]
      for (let k = i + 1; k < n; k++) {
        const [ar, ai, br, bi] = [re[own + k]!, im[own + k]!, re[k * width + j]!, im[k * width + j]!]
        x -= ar * br - ai * bi
        y -= ar * bi + ai * br
      }
      re[own + j] = (x * pr + y * pi) / size
      im[own + j] = (y * pr - x * pi) / size
    }
  }
  return true
}
