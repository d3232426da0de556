/** Position, speed and acceleration of one coordinate. */
export interface Along {
  readonly q: number
  readonly v: number
  readonly a: number
}

/** What happens between poses. */
export type Passing = 'on' | 'stop'

/**
 * A coordinate through points at rising times, held at its ends before and after. Passing on: the cubic spline that starts
 * and ends at rest, de Boor, A Practical Guide to Splines, 1978, ch. IV (from memory). Stopping at each: the polynomial of
 * least jerk 10 s³ - 15 s⁴ + 6 s⁵, Flash & Hogan, J. Neurosci. 5, 1985 (from memory).
 */
export function splineThrough(times: readonly number[], values: readonly number[], passing: Passing): (t: number) => Along {
  const slopes = passing === 'on' ? clampedSlopes(times, values) : undefined
  return (t) => {
    const last = times.length - 1
    if (t <= times[0]!)
      return { q: values[0]!, v: 0, a: slopes === undefined || t < times[0]! ? 0 : endAcceleration(times, values, slopes) }
    if (t > times[last]!) return { q: values[last]!, v: 0, a: 0 }
    const i = Math.max(0, times.findIndex((one) => one >= t) - 1)
    const h = times[i + 1]! - times[i]!
    const s = (t - times[i]!) / h
    const [from, to] = [values[i]!, values[i + 1]!]
    return slopes === undefined ? leastJerk(from, to - from, s, h) : hermite(from, to, slopes[i]!, slopes[i + 1]!, s, h)
  }
}

function endAcceleration(times: readonly number[], values: readonly number[], slopes: readonly number[]): number {
  const h = times[1]! - times[0]!
  return hermite(values[0]!, values[1]!, slopes[0]!, slopes[1]!, 0, h).a
}

function leastJerk(from: number, way: number, s: number, h: number): Along {
  return {
    q: from + way * s ** 3 * (10 - 15 * s + 6 * s * s),
    v: (way * 30 * s * s * (1 - s) ** 2) / h,
    a: (way * 60 * s * (1 - s) * (1 - 2 * s)) / (h * h),
  }
}

function hermite(from: number, to: number, slopeFrom: number, slopeTo: number, s: number, h: number): Along {
  const [m0, m1] = [h * slopeFrom, h * slopeTo]
  const c2 = 3 * (to - from) - 2 * m0 - m1
  const c3 = 2 * (from - to) + m0 + m1
  return { q: from + s * (m0 + s * (c2 + s * c3)), v: (m0 + s * (2 * c2 + 3 * s * c3)) / h, a: (2 * c2 + 6 * s * c3) / (h * h) }
}

/** Speeds at the points with continuous acceleration and rest at both ends: a tridiagonal system, solved forward and back. */
function clampedSlopes(times: readonly number[], values: readonly number[]): number[] {
  const n = times.length
  const slopes = new Array<number>(n).fill(0)
  const ratio = new Array<number>(n).fill(0)
  for (let i = 1; i < n - 1; i++) {
    const [before, after] = [times[i]! - times[i - 1]!, times[i + 1]! - times[i]!]
    const pull = 3 * ((values[i]! - values[i - 1]!) / before ** 2 + (values[i + 1]! - values[i]!) / after ** 2)
    const pivot = 2 / before + 2 / after - ratio[i - 1]! / before
    ratio[i] = 1 / after / pivot
    slopes[i] = (pull - slopes[i - 1]! / before) / pivot
  }
  for (let i = n - 2; i > 0; i--) slopes[i]! -= ratio[i]! * slopes[i + 1]!
  return slopes
}
