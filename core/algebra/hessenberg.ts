import type { Matrix } from './matrix'

/** a = q h qᵀ with q orthogonal and h zero below its first subdiagonal. Golub & Van Loan, 4th ed., section 7.4 (from memory). */
export function hessenbergForm(a: Matrix): { h: number[][]; q: number[][] } {
  const n = a.length
  const h = a.map((row) => [...row])
  const q = a.map((_, i) => a.map((__, j) => (i === j ? 1 : 0)))
  for (let m = 0; m < n - 2; m++) {
    const v = h.map((row, i) => (i > m ? row[m]! : 0))
    const length = Math.sqrt(v.reduce((sum, value) => sum + value * value, 0))
    if (length === 0 || v.every((value, i) => i === m + 1 || value === 0)) continue
    v[m + 1]! += v[m + 1]! >= 0 ? length : -length
    const scale = 2 / v.reduce((sum, value) => sum + value * value, 0)
    for (let j = 0; j < n; j++) reflect(scale, v, m, (i) => h[i]![j]!, (i, value) => (h[i]![j] = value)) // prettier-ignore
    for (const row of [...h, ...q]) reflect(scale, v, m, (i) => row[i]!, (i, value) => (row[i] = value)) // prettier-ignore
  }
  return { h, q }
}

function reflect(
  scale: number,
  v: readonly number[],
  m: number,
  get: (i: number) => number,
  set: (i: number, value: number) => void,
) {
  let along = 0
  for (let i = m + 1; i < v.length; i++) along += v[i]! * get(i)
  along *= scale
  for (let i = m + 1; i < v.length; i++) set(i, get(i) - along * v[i]!)
}
