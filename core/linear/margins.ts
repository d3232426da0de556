import { complex, magnitude, overComplex, plusComplex } from '../algebra'
import type { Complex } from '../algebra'
import { atan2, log } from '../expression'
import { highest } from './goldenSection'

/** A loop gain over frequency, rad/s; `undefined` exactly at a pole. */
export type FrequencyFunction = (w: number) => Complex | undefined

export interface GainMargin {
  /** rad/s */
  readonly w: number
  /** Factor on the loop gain that brings it to the edge. */
  readonly factor: number
}

export interface PhaseMargin {
  readonly w: number
  /** rad in (-pi, pi] */
  readonly margin: number
  /** s of extra delay that bring the loop to the edge */
  readonly delay: number
}

export interface Margins {
  readonly gain: readonly GainMargin[]
  readonly phase: readonly PhaseMargin[]
  /** Largest |1/(1 + L)| and where. */
  readonly sensitivityPeak: { readonly w: number; readonly factor: number }
}

const pointsPerDecade = 120
const goldenSteps = 32 // below, the top is flat to working precision
const mostRefinements = 60 // about ten are usual
/** An imaginary part below this share of the whole is rounding. */
const realShare = 1e-12

/** Frequencies from `least` to `most` on a logarithmic grid, never further apart than `step`. */
export function frequencyGrid(least: number, most: number, step = Infinity): number[] {
  const ratio = 10 ** (1 / pointsPerDecade)
  const grid = [least]
  for (let w = least; w < most;) {
    w = Math.min(w * ratio, w + step, most)
    grid.push(w)
  }
  return grid
}

/** Decades that a grid grows at most at either end. */
const mostDecades = 40
/** A loop gain falls or rises by whole powers of the frequency, to this share, where nothing more happens to it. */
const settledSlope = 0.01

/**
 * A grid that reaches as far as the loop gain still has something to do: it grows until the gain has a steady slope that
 * leads away from 1, or none; upward to `top`. Poles alone do not tell: 1e-6/s crosses at 1e-6 rad/s.
 */
export function widened(loop: FrequencyFunction, grid: readonly number[], top: number): readonly number[] {
  const [first, last] = [grid[0]!, grid.at(-1)!]
  const least = settledFrom(loop, first, 0.1, 0)
  const most = settledFrom(loop, last, 10, top)
  return [
    ...(least < first ? frequencyGrid(least, first).slice(0, -1) : []),
    ...grid,
    ...(most > last ? frequencyGrid(last, most).slice(1) : []),
  ]
}

function settledFrom(loop: FrequencyFunction, from: number, factor: number, end: number): number {
  let w = from
  for (let decade = 0; decade < mostDecades; decade++) {
    if (factor > 1 ? w * factor > end : w * factor < end) break
    const sizes = [w, w * factor, w * factor * factor].map((one) => magnitude(loop(one) ?? complex(NaN)))
    const slopes = [sizes[1]! / sizes[0]!, sizes[2]! / sizes[1]!].map((ratio) => log(ratio) / Math.LN10)
    const [slope] = slopes as [number, number]
    if (!slopes.every(Number.isFinite)) break
    const isSteady = slopes.every((one) => Math.abs(one - Math.round(slope)) < settledSlope)
    if (isSteady && (Math.round(slope) === 0 || sizes[0]! >= 1 === slope > 0)) break
    w *= factor
  }
  return w
}

/**
 * Every gain and phase crossing of a loop gain on a grid, slowest first; at rest too, where the gain there is negative. Negative unity feedback. A loop that never
 * crosses has no margin of that kind: an empty list, not Infinity. Resonances narrower than the grid are looked into.
 */
export function margins(loop: FrequencyFunction, grid: readonly number[]): Margins {
  const points = withHiddenPeaks(loop, sampled(loop, grid))
  const gain: GainMargin[] = []
  const phase: PhaseMargin[] = []
  for (let i = 1; i < points.length; i++) {
    const [from, to] = [points[i - 1]!, points[i]!]
    if (magnitude(from.value) >= 1 !== magnitude(to.value) >= 1) {
      const w = crossing((x) => log(magnitude(loop(x) ?? from.value)), from.w, to.w)
      const at = loop(w)
      if (at !== undefined) phase.push(phaseMarginAt(w, at))
    }
    if (from.value.im >= 0 !== to.value.im >= 0) {
      const w = crossing((x) => (loop(x) ?? from.value).im, from.w, to.w)
      const at = loop(w)
      if (at !== undefined && at.re < 0) gain.push({ w, factor: 1 / magnitude(at) })
    }
  }
  const atRest = marginAtRest(loop, points)
  if (atRest !== undefined) gain.unshift(atRest)
  const end = points.at(-1)
  if (end !== undefined && reachesAxis(points.at(-2), end) && gain.at(-1)?.w !== end.w)
    gain.push({ w: end.w, factor: 1 / magnitude(end.value) })
  return {
    gain,
    phase,
    sensitivityPeak: peak(
      loop,
      points.map(({ w }) => w),
    ),
  }
}

/** A gain at rest that is so much below the largest is none. */
const zeroAtRest = 1e-9

/** So far above the gain of the slowest point there is a pole at rest, seen through rounding. */
const poleAtRest = 1e6

/** A loop whose gain at rest is negative and finite leaves the edge there with a pole that stands still. */
function marginAtRest(loop: FrequencyFunction, points: readonly Point[]): GainMargin | undefined {
  const rest = loop(0)
  const slowest = points[0]?.value
  if (slowest === undefined || rest === undefined) return undefined
  // a zero at rest, seen through rounding, has either sign
  if (magnitude(rest) < zeroAtRest * points.reduce((most, { value }) => Math.max(most, magnitude(value)), 0)) return undefined
  if (!(rest.re < 0) || !(magnitude(rest) < poleAtRest * magnitude(slowest))) return undefined
  return Math.abs(rest.im) <= realShare * magnitude(rest) ? { w: 0, factor: 1 / magnitude(rest) } : undefined
}

/** A sampled loop is real at half its rate: its phase may reach -180° just there, without crossing. */
function reachesAxis(before: Point | undefined, end: Point): boolean {
  const isReal = ({ value }: Point) => Math.abs(value.im) <= realShare * magnitude(value)
  return before !== undefined && !isReal(before) && isReal(end) && end.value.re < 0
}

interface Point {
  readonly w: number
  readonly value: Complex
}

function sampled(loop: FrequencyFunction, grid: readonly number[]): Point[] {
  return grid.map((w) => ({ w, value: loop(w) })).filter((point): point is Point => point.value !== undefined)
}

/** A narrow resonance can rise above 1 and fall again (or dip below) between two points: its top is added to them. */
function withHiddenPeaks(loop: FrequencyFunction, points: readonly Point[]): Point[] {
  return points.flatMap((point, i) => {
    const [before, after] = [points[i - 1], points[i + 1]]
    if (before === undefined || after === undefined) return [point]
    const size = magnitude(point.value)
    const [left, right] = [magnitude(before.value), magnitude(after.value)]
    const sign = size < 1 && size >= left && size >= right ? 1 : size > 1 && size <= left && size <= right ? -1 : 0
    if (sign === 0) return [point]
    const w = highest((x) => sign * magnitude(loop(x) ?? point.value), before.w, after.w, goldenSteps)
    const value = loop(w)
    if (value === undefined || magnitude(value) >= 1 === size >= 1) return [point]
    return w < point.w ? [{ w, value }, point] : [point, { w, value }]
  })
}

function phaseMarginAt(w: number, at: Complex): PhaseMargin {
  const margin = atan2(-at.im, -at.re) // the angle from -1
  const turn = margin >= 0 ? margin : margin + 2 * Math.PI
  return { w, margin, delay: turn / w }
}

/** A zero of `height` between two points of different sign, by false position with Illinois' halving. */
function crossing(height: (w: number) => number, from: number, to: number): number {
  let [a, b] = [from, to]
  let [fa, fb] = [height(a), height(b)]
  for (let i = 0; i < mostRefinements && fa !== fb; i++) {
    const w = b - (fb * (b - a)) / (fb - fa)
    const f = height(w)
    if (f === 0 || Math.abs(w - b) < 1e-15 * w) return w
    if (f > 0 !== fb > 0) [a, fa] = [b, fb]
    else fa /= 2
    ;[b, fb] = [w, f]
  }
  return b
}

function peak(loop: FrequencyFunction, grid: readonly number[]): { w: number; factor: number } {
  const sensitivity = (w: number) => {
    const value = loop(w)
    return value === undefined ? 0 : magnitude(overComplex(complex(1), plusComplex(complex(1), value)))
  }
  let best = 0
  const heights = grid.map(sensitivity)
  heights.forEach((height, i) => {
    if (height > heights[best]!) best = i
  })
  const w = highest(sensitivity, grid[Math.max(best - 1, 0)]!, grid[Math.min(best + 1, grid.length - 1)]!, goldenSteps)
  return { w, factor: Math.max(sensitivity(w), heights[best]!) }
}
