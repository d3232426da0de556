import { balancingSizes } from './balance'
import type { Complex } from './complex'
import type { Matrix } from './matrix'

/** A shifted QR step converges in two or three passes; this many for one eigenvalue means something is not finite. */
const mostPasses = 60

/**
 * Eigenvalues of a real square matrix, in no promised order: balancing, reduction to Hessenberg form, then the
 * double-shift QR algorithm. Follows EISPACK's balanc, elmhes and hqr (Wilkinson & Reinsch, Handbook for Automatic
 * Computation II, 1971; written from memory). `undefined` where it does not converge (entries not finite).
 */
export function eigenvalues(matrix: Matrix): Complex[] | undefined {
  const n = matrix.length
  const a = new Float64Array(n * n)
  for (let i = 0; i < n; i++) a.set(matrix[i]!, i * n)
  return eigenvaluesWithin(a, n)
}

/** The same for n x n entries row by row, which are used up. */
export function eigenvaluesWithin(a: Float64Array, n: number): Complex[] | undefined {
  for (let i = 0; i < n * n; i++) if (!Number.isFinite(a[i]!)) return undefined
  balancingSizes(a, n)
  toHessenberg(a, n)
  return hessenbergEigenvalues(a, n)
}

function toHessenberg(a: Float64Array, n: number): void {
  for (let m = 1; m < n - 1; m++) {
    let pivot = m
    for (let i = m; i < n; i++) if (Math.abs(a[i * n + m - 1]!) > Math.abs(a[pivot * n + m - 1]!)) pivot = i
    const x = a[pivot * n + m - 1]!
    if (x === 0) continue
    if (pivot !== m) {
      for (let j = 0; j < n; j++) exchange(a, m * n + j, pivot * n + j)
      for (let j = 0; j < n; j++) exchange(a, j * n + m, j * n + pivot)
    }
    for (let i = m + 1; i < n; i++) {
      const y = a[i * n + m - 1]! / x
      if (y === 0) continue
      for (let j = m - 1, own = i * n, above = m * n; j < n; j++) a[own + j]! -= y * a[above + j]!
      a[i * n + m - 1] = 0
      for (let at = 0; at < n * n; at += n) a[at + m]! += y * a[at + i]!
    }
  }
}

function exchange(a: Float64Array, i: number, j: number): void {
  const kept = a[i]!
  a[i] = a[j]!
  a[j] = kept
}

/** Letters as in hqr. */
function hessenbergEigenvalues(a: Float64Array, n: number): Complex[] | undefined {
  const found: Complex[] = []
  let norm = 0
  for (let i = 0; i < n; i++) for (let j = Math.max(i - 1, 0); j < n; j++) norm += Math.abs(a[i * n + j]!)
  let t = 0
  let passes = 0
  for (let high = n - 1; high >= 0;) {
    let l = high
    for (; l > 0; l--) {
      const s = Math.abs(a[(l - 1) * n + l - 1]!) + Math.abs(a[l * n + l]!) || norm
      if (Math.abs(a[l * n + l - 1]!) + s === s) break
    }
    const last = high * n + high
    let x = a[last]!
    if (l === high) {
      found.push({ re: x + t, im: 0 })
      high--
      passes = 0
      continue
    }
    let y = a[last - n - 1]!
    let w = a[last - 1]! * a[last - n]!
    if (l === high - 1) {
      found.push(...pair(x, y, w, t))
      high -= 2
      passes = 0
      continue
    }
    if (++passes > mostPasses) return undefined
    if (passes % 10 === 0) {
      t += x
      for (let i = 0; i <= high; i++) a[i * n + i]! -= x
      const s = Math.abs(a[last - 1]!) + Math.abs(a[last - n - 2]!)
      x = y = 0.75 * s
      w = -0.4375 * s * s
    }
    doubleStep(a, n, l, high, x, y, w)
  }
  return found
}

function pair(x: number, y: number, w: number, t: number): Complex[] {
  const p = 0.5 * (y - x)
  const q = p * p + w
  const z = Math.sqrt(Math.abs(q))
  if (q < 0) {
    return [
      { re: x + t + p, im: z },
      { re: x + t + p, im: -z },
    ]
  }
  const root = p + (p >= 0 ? z : -z)
  return [
    { re: x + t + root, im: 0 },
    { re: root === 0 ? x + t : x + t - w / root, im: 0 },
  ]
}

function doubleStep(a: Float64Array, n: number, l: number, high: number, x: number, y: number, w: number): void {
  let m = high - 2
  let p: number, q: number, r: number
  for (; ; m--) {
    const own = m * n + m
    const next = own + n
    const z = a[own]!
    const rr = x - z
    const ss = y - z
    p = (rr * ss - w) / a[next]! + a[own + 1]!
    q = a[next + 1]! - z - rr - ss
    r = a[next + n + 1]!
    const s = Math.abs(p) + Math.abs(q) + Math.abs(r)
    p /= s
    q /= s
    r /= s
    if (m === l) break
    const u = Math.abs(a[own - 1]!) * (Math.abs(q) + Math.abs(r))
    const v = Math.abs(p) * (Math.abs(a[own - n - 1]!) + Math.abs(z) + Math.abs(a[next + 1]!))
    if (u + v === v) break
  }
  for (let i = m + 2; i <= high; i++) {
    a[i * n + i - 2] = 0
    if (i !== m + 2) a[i * n + i - 3] = 0
  }
  for (let k = m; k < high; k++) {
    const own = k * n
    const next = own + n
    const third = next + n
    const isLast = k === high - 1
    if (k !== m) {
      p = a[own + k - 1]!
      q = a[next + k - 1]!
      r = isLast ? 0 : a[third + k - 1]!
      x = Math.abs(p) + Math.abs(q) + Math.abs(r)
      if (x === 0) continue
      p /= x
      q /= x
      r /= x
    }
    const s = (p < 0 ? -1 : 1) * Math.sqrt(p * p + q * q + r * r)
    if (s === 0) continue
    if (k !== m) a[own + k - 1] = -s * x
    else if (l !== m) a[own + k - 1] = -a[own + k - 1]!
    p += s
    x = p / s
    y = q / s
    const z = r / s
    q /= p
    r /= p
    for (let j = k; j < n; j++) {
      let sum = a[own + j]! + q * a[next + j]!
      if (!isLast) {
        sum += r * a[third + j]!
        a[third + j]! -= sum * z
      }
      a[next + j]! -= sum * y
      a[own + j]! -= sum * x
    }
    const end = Math.min(high, k + 3) * n + k
    for (let at = k; at <= end; at += n) {
      let sum = x * a[at]! + y * a[at + 1]!
      if (!isLast) {
        sum += z * a[at + 2]!
        a[at + 2]! -= sum * r
      }
      a[at + 1]! -= sum * q
      a[at]! -= sum
    }
  }
}
