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
  const a = matrix.map((row) => [...row])
  if (a.some((row) => row.some((value) => !Number.isFinite(value)))) return undefined
  balance(a)
  toHessenberg(a)
  return hessenbergEigenvalues(a)
}

function balance(a: number[][]): void {
  const n = a.length
  for (let converged = false; !converged;) {
    converged = true
    for (let i = 0; i < n; i++) {
      let row = 0
      let column = 0
      for (let j = 0; j < n; j++) {
        if (j === i) continue
        row += Math.abs(a[i]![j]!)
        column += Math.abs(a[j]![i]!)
      }
      if (row === 0 || column === 0) continue
      const total = row + column
      let f = 1
      for (; column < row / 2; column *= 4) f *= 2
      for (; column >= row * 2; column /= 4) f /= 2
      if ((column + row) / f >= 0.95 * total) continue
      converged = false
      for (let j = 0; j < n; j++) a[i]![j]! /= f
      for (let j = 0; j < n; j++) a[j]![i]! *= f
    }
  }
}

function toHessenberg(a: number[][]): void {
  const n = a.length
  for (let m = 1; m < n - 1; m++) {
    let pivot = m
    for (let i = m; i < n; i++) if (Math.abs(a[i]![m - 1]!) > Math.abs(a[pivot]![m - 1]!)) pivot = i
    const x = a[pivot]![m - 1]!
    if (x === 0) continue
    if (pivot !== m) {
      ;[a[m], a[pivot]] = [a[pivot]!, a[m]!]
      for (const row of a) [row[m], row[pivot]] = [row[pivot]!, row[m]!]
    }
    for (let i = m + 1; i < n; i++) {
      const y = a[i]![m - 1]! / x
      if (y === 0) continue
      for (let j = m - 1; j < n; j++) a[i]![j]! -= y * a[m]![j]!
      a[i]![m - 1] = 0
      for (let j = 0; j < n; j++) a[j]![m]! += y * a[j]![i]!
    }
  }
}

/** Letters as in hqr. */
function hessenbergEigenvalues(a: number[][]): Complex[] | undefined {
  const n = a.length
  const found: Complex[] = []
  let norm = 0
  for (let i = 0; i < n; i++) for (let j = Math.max(i - 1, 0); j < n; j++) norm += Math.abs(a[i]![j]!)
  let t = 0
  let passes = 0
  for (let high = n - 1; high >= 0;) {
    let l = high
    for (; l > 0; l--) {
      const s = Math.abs(a[l - 1]![l - 1]!) + Math.abs(a[l]![l]!) || norm
      if (Math.abs(a[l]![l - 1]!) + s === s) break
    }
    let x = a[high]![high]!
    if (l === high) {
      found.push({ re: x + t, im: 0 })
      high--
      passes = 0
      continue
    }
    let y = a[high - 1]![high - 1]!
    let w = a[high]![high - 1]! * a[high - 1]![high]!
    if (l === high - 1) {
      found.push(...pair(x, y, w, t))
      high -= 2
      passes = 0
      continue
    }
    if (++passes > mostPasses) return undefined
    if (passes % 10 === 0) {
      t += x
      for (let i = 0; i <= high; i++) a[i]![i]! -= x
      const s = Math.abs(a[high]![high - 1]!) + Math.abs(a[high - 1]![high - 2]!)
      x = y = 0.75 * s
      w = -0.4375 * s * s
    }
    doubleStep(a, l, high, x, y, w)
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

function doubleStep(a: number[][], l: number, high: number, x: number, y: number, w: number): void {
  const n = a.length
  let m = high - 2
  let p: number, q: number, r: number
  for (; ; m--) {
    const z = a[m]![m]!
    const rr = x - z
    const ss = y - z
    p = (rr * ss - w) / a[m + 1]![m]! + a[m]![m + 1]!
    q = a[m + 1]![m + 1]! - z - rr - ss
    r = a[m + 2]![m + 1]!
    const s = Math.abs(p) + Math.abs(q) + Math.abs(r)
    ;[p, q, r] = [p / s, q / s, r / s]
    if (m === l) break
    const u = Math.abs(a[m]![m - 1]!) * (Math.abs(q) + Math.abs(r))
    const v = Math.abs(p) * (Math.abs(a[m - 1]![m - 1]!) + Math.abs(z) + Math.abs(a[m + 1]![m + 1]!))
    if (u + v === v) break
  }
  for (let i = m + 2; i <= high; i++) {
    a[i]![i - 2] = 0
    if (i !== m + 2) a[i]![i - 3] = 0
  }
  for (let k = m; k < high; k++) {
    if (k !== m) {
      p = a[k]![k - 1]!
      q = a[k + 1]![k - 1]!
      r = k === high - 1 ? 0 : a[k + 2]![k - 1]!
      x = Math.abs(p) + Math.abs(q) + Math.abs(r)
      if (x === 0) continue
      ;[p, q, r] = [p / x, q / x, r / x]
    }
    const s = (p < 0 ? -1 : 1) * Math.sqrt(p * p + q * q + r * r)
    if (s === 0) continue
    if (k !== m) a[k]![k - 1] = -s * x
    else if (l !== m) a[k]![k - 1] = -a[k]![k - 1]!
    p += s
    x = p / s
    y = q / s
    const z = r / s
    q /= p
    r /= p
    for (let j = k; j < n; j++) {
      let sum = a[k]![j]! + q * a[k + 1]![j]!
      if (k !== high - 1) {
        sum += r * a[k + 2]![j]!
        a[k + 2]![j]! -= sum * z
      }
      a[k + 1]![j]! -= sum * y
      a[k]![j]! -= sum * x
    }
    const last = Math.min(high, k + 3)
    for (let i = 0; i <= last; i++) {
      let sum = x * a[i]![k]! + y * a[i]![k + 1]!
      if (k !== high - 1) {
        sum += z * a[i]![k + 2]!
        a[i]![k + 2]! -= sum * r
      }
      a[i]![k + 1]! -= sum * q
      a[i]![k]! -= sum
    }
  }
}
