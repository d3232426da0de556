import { complex, magnitude, overComplex, plusComplex, singularValues, solveComplex, timesComplex } from '../algebra'
import type { Complex } from '../algebra'
import { atan, exp } from '../expression'
import { highest } from './goldenSection'
import { margins } from './margins'
import type { FrequencyFunction, Margins } from './margins'

/** A square matrix of responses over frequency, rad/s; `undefined` exactly at a pole. */
export type MatrixFunction = (w: number) => Complex[][] | undefined

/** Singular values of a complex matrix, largest first. */
export function complexSingularValues(a: readonly (readonly Complex[])[]): readonly number[] {
  // as a real matrix of twice the size: every value appears twice
  const real = (row: readonly Complex[]) => [...row.map(({ re }) => re), ...row.map(({ im }) => -im)]
  const imaginary = (row: readonly Complex[]) => [...row.map(({ im }) => im), ...row.map(({ re }) => re)]
  const { values } = singularValues([...a.map(real), ...a.map(imaginary)])
  return values.filter((_, i) => i % 2 === 0)
}

/** (1 + L)⁻¹ of a loop gain with negative feedback. */
export function sensitivityOf(loop: MatrixFunction): MatrixFunction {
  return (w) => {
    const l = loop(w)
    if (l === undefined) return undefined
    const one = l.map((row, i) => row.map((_, j) => complex(i === j ? 1 : 0)))
    const back = l.map((row, i) => row.map((value, j) => plusComplex(value, one[i]![j]!)))
    return solveComplex(back, one)
  }
}

/**
 * The margins of each channel while all others stay closed: what stands between a cut there and its other side is
 * 1/S_kk - 1. `w` on a grid as for `margins`.
 */
export function channelMargins(loop: MatrixFunction, count: number, grid: readonly number[]): Margins[] {
  const sensitivity = remembering(sensitivityOf(loop))
  return Array.from({ length: count }, (_, k) => margins(seenBy(sensitivity, k), grid))
}

/** The loop gain of one channel opened alone, the others closed. */
function seenBy(sensitivity: MatrixFunction, k: number): FrequencyFunction {
  return (w) => {
    const s = sensitivity(w)?.[k]?.[k]
    return s === undefined || magnitude(s) === 0 ? undefined : overComplex(complex(1 - s.re, -s.im), s)
  }
}

/** The same, each frequency worked out once. */
export function remembering(of: MatrixFunction): MatrixFunction {
  const known = new Map<number, Complex[][] | undefined>()
  return (w) => {
    if (!known.has(w)) known.set(w, of(w))
    return known.get(w)
  }
}

/** What every channel may change by at the same time, each in its own way. */
export interface SimultaneousMargin {
  /** Each gain within 1/factor ... factor; Infinity where nothing brings it to the edge. */
  readonly factor: number
  /** Or each phase within this either way, rad. */
  readonly phase: number
  /** Where it binds, rad/s. */
  readonly w: number
  /** One a channel: in these units a change of each counts the same there. */
  readonly scales: readonly number[]
}

const goldenSteps = 24
/** Heights of hills are estimates from below: one that is lower by less than this is looked at too. */
const leeway = 1.05
/** Share by which the true peak may be higher than where the search ended: what is told is never more than what holds. */
const peakDoubt = 1e-4
const scaleSteps = 14
const rounds = 3

/**
 * The disk margin of all channels at once, guaranteed: no diagonal of factors (1 + d/2)/(1 - d/2) with |d| below 1/peak
 * brings the loop to its edge, the peak being that of S - 1/2 in the best diagonal scales (upper bound of the structured
 * singular value; exact to three channels). P. Seiler, A. Packard & P. Gahinet, "An introduction to disk margins", IEEE
 * Control Systems Magazine 40 (2020), with no skew. The loop must be stable.
 */
export function simultaneousMargin(loop: MatrixFunction, count: number, grid: readonly number[]): SimultaneousMargin {
  const sensitivity = sensitivityOf(loop)
  const shifted: MatrixFunction = (w) =>
    sensitivity(w)?.map((row, i) => row.map((value, j) => (i === j ? complex(value.re - 0.5, value.im) : value)))
  const height = (w: number) => {
    const m = shifted(w)
    return m === undefined ? 0 : largestGain(inComplexScales(m, balanced(m)))
  }
  const heights = grid.map(height)
  // every hill by its height in balanced scales; better scales only lower it, so those left below the best need no look
  const hills = grid.map((_, i) => i).filter((i) => heights[i]! >= (heights[i - 1] ?? 0) && heights[i]! >= (heights[i + 1] ?? 0))
  hills.sort((i, j) => heights[j]! - heights[i]!)
  let best: { w: number; peak: number; scales: number[] } | undefined
  for (const i of hills) {
    if (best !== undefined && heights[i]! * leeway <= best.peak) break
    const [low, high] = [grid[Math.max(i - 1, 0)]!, grid[Math.min(i + 1, grid.length - 1)]!]
    let w = highest(height, low, high, goldenSteps)
    // what is highest in balanced scales need not be in the best ones
    for (let look = 0; look < 2; look++) {
      const m = shifted(w) ?? shifted(grid[i]!)
      if (m === undefined) break
      const found = { w, ...scaledPeak(m) }
      if (best === undefined || found.peak > best.peak) best = found
      const inThese = (at: number) => largestGain(inComplexScales(shifted(at) ?? m, found.scales))
      if (look === 0) w = highest(inThese, low, high, goldenSteps)
    }
  }
  const { w, scales, peak: seen } = best ?? { w: grid[0]!, peak: 0, scales: ones(count) }
  const peak = seen * (1 + peakDoubt)
  // alpha is how far |d| may go; from 2 on the disk holds every gain
  const alpha = 1 / peak
  return { factor: alpha >= 2 ? Infinity : (2 + alpha) / (2 - alpha), phase: 2 * atan(alpha / 2), w, scales }
}

const powerSteps = 24

/** The largest singular value, from below and to about a percent: by powers of mᴴ m. */
function largestGain(m: readonly (readonly Complex[])[]): number {
  const n = m.length
  let x: Complex[] = Array.from({ length: n }, (_, i) => complex(1, 0.1 * i))
  let gain = 0
  for (let step = 0; step < powerSteps; step++) {
    const y = m.map((row) => row.reduce((sum, value, j) => plusComplex(sum, timesComplex(value, x[j]!)), complex(0)))
    const back = x.map((_, j) =>
      y.reduce((sum, value, i) => plusComplex(sum, timesComplex(conjugate(m[i]![j]!), value)), complex(0)),
    )
    const size = length(back)
    if (size === 0) return 0
    gain = length(y) / length(x)
    x = back.map(({ re, im }) => complex(re / size, im / size))
  }
  return gain
}

function conjugate({ re, im }: Complex): Complex {
  return complex(re, -im)
}

function length(x: readonly Complex[]): number {
  return Math.sqrt(x.reduce((sum, { re, im }) => sum + re * re + im * im, 0))
}

const ones = (count: number) => Array.from({ length: count }, () => 1)

/** The largest singular value of D m D⁻¹ over diagonal D > 0: balanced by rows and columns first, then one by one. */
function scaledPeak(m: readonly (readonly Complex[])[]): { peak: number; scales: number[] } {
  const n = m.length
  const scales = balanced(m)
  const peakWith = (d: readonly number[]) => largestGain(inComplexScales(m, d))
  let peak = peakWith(scales)
  for (let round = 0; round < (n === 1 ? 0 : rounds); round++) {
    const before = peak
    for (let k = 1; k < n; k++) {
      const at = (x: number) => peakWith(scales.map((d, i) => (i === k ? d * exp(x) : d)))
      const x = highest((one) => -at(one), -1, 1, scaleSteps)
      const found = at(x)
      if (found < peak) {
        scales[k] = scales[k]! * exp(x)
        peak = found
      }
    }
    if (peak > before * (1 - 1e-4)) break
  }
  return { peak: complexSingularValues(inComplexScales(m, scales))[0] ?? 0, scales }
}

/** d_i m_ij / d_j */
export function inComplexScales(m: readonly (readonly Complex[])[], d: readonly number[]): Complex[][] {
  return m.map((row, i) => row.map((value, j) => timesComplex(value, complex(d[i]! / d[j]!))))
}

/** Scales in which rows and columns beside the diagonal are of one size. E. E. Osborne, Journal of the ACM 7 (1960). */
function balanced(m: readonly (readonly Complex[])[]): number[] {
  const n = m.length
  const size = m.map((row) => row.map(magnitude))
  const d = ones(n)
  for (let round = 0; round < 12; round++) {
    for (let k = 0; k < n; k++) {
      let [row, column] = [0, 0]
      for (let j = 0; j < n; j++) {
        if (j === k) continue
        row += ((size[k]![j]! * d[k]!) / d[j]!) ** 2
        column += ((size[j]![k]! * d[j]!) / d[k]!) ** 2
      }
      if (row > 0 && column > 0) d[k] = d[k]! * (column / row) ** 0.25
    }
  }
  return d.map((one) => one / d[0]!)
}
