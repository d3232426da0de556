import { complex, eigenvalues, magnitude, overComplex, plusComplex, timesComplex } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { atan2, cos, exp, sin, tan } from '../expression'
import { responder } from './responder'
import type { StateSpace } from './stateSpace'

/** How far right of the axis the contour runs, as a share of the slowest that matters: poles of the loop on the axis lie left of it. */
const shift = 1e-6
/** Poles below this share of the fastest are at the origin. */
const roundedToZero = 1e-9
/** Between two points of the contour 1 + L turns by no more, or another point is put between. */
const mostTurn = 0.5
const mostHalvings = 60
/** Points of the contour a decade, and a turn of the delay. */
const pointsPerDecade = 60
const pointsPerTurn = 24
/** Where the loop gain stays below, 1 + L turns about nothing any more. */
const negligible = 0.1
const mostPoints = 3_000_000

/**
 * Poles of the closed loop 1 + L = 0 in the right half plane for L = (c (s - a)⁻¹ b + d) e^(-s delay), negative feedback, of a
 * continuous system with one input and one output: Nyquist's criterion on a contour just right of the axis, so that poles of
 * the loop on the axis need no detours; Z = P - (turn of 1 + L from 0 to infinity)/pi. Closed poles on the axis itself count
 * as stable. `undefined` where |d| is 1 or more, as then there are ever faster ones, or where the contour would be too long.
 */
export function unstableClosedPoles(system: StateSpace, delay: number): number | undefined {
  const direct = Math.abs(system.d[0]![0]!)
  const poles = eigenvalues(system.a)
  if (poles === undefined || direct >= 1) return undefined
  if (delay === 0) return eigenvalues(closedAlone(system))?.filter(({ re }) => re > 0).length
  const most = Math.max(1 / delay, ...poles.map(magnitude))
  const sizes = poles.map(magnitude).filter((size) => size > roundedToZero * most)
  const sigma = shift * Math.min(1 / delay, ...sizes)
  const answer = responder(system)
  const returned = (w: number): Complex => {
    const s = complex(sigma, w)
    const late = exp(-sigma * delay)
    const turned = complex(late * cos(w * delay), -late * sin(w * delay))
    const value = timesComplex(answer(s)![0]![0]!, turned)
    return plusComplex(complex(1), value)
  }
  const end = lastThatMatters(returned, most, direct)
  const points = end === undefined ? undefined : contour(poles, sigma, delay, end)
  if (points === undefined) return undefined
  let turn = 0
  let [w, value] = [0, returned(0)]
  for (const next of points) {
    const there = returned(next)
    turn += turnBetween(returned, [w, value], [next, there], 0)
    ;[w, value] = [next, there]
  }
  const open = poles.filter(({ re }) => re > sigma).length
  return Math.round(open - (turn - atan2(value.im, value.re)) / Math.PI) + 0 // never -0
}

/** Without a delay the closed loop has finitely many poles: those of a - b (1 + d)⁻¹ c. */
function closedAlone({ a, b, c, d }: StateSpace): Matrix {
  const scale = 1 / (1 + d[0]![0]!)
  return a.map((row, i) => row.map((value, j) => value - b[i]![0]! * scale * c[0]![j]!))
}

type Point = readonly [w: number, value: Complex]

function turnBetween(returned: (w: number) => Complex, from: Point, to: Point, depth: number): number {
  const quotient = overComplex(to[1], from[1])
  const turn = atan2(quotient.im, quotient.re)
  if (Math.abs(turn) <= mostTurn || depth >= mostHalvings) return turn
  const w = from[0] > 0 ? Math.sqrt(from[0] * to[0]) : 0.5 * to[0]
  const between: Point = [w, returned(w)]
  return turnBetween(returned, from, between, depth + 1) + turnBetween(returned, between, to, depth + 1)
}

/** Beyond every pole, where the loop gain has sunk for good: it falls from there on, towards what passes at once. */
function lastThatMatters(returned: (w: number) => Complex, fastest: number, direct: number): number | undefined {
  const gain = (w: number) => magnitude(plusComplex(returned(w), complex(-1)))
  let w = 10 * fastest
  for (let k = 0; k < 300; k++, w *= 2) if (gain(w) <= Math.max(negligible, 0.5 * (1 + direct))) return w
  return undefined
}

/** Frequencies of the contour: by decades, by turns of the delay, and close about every pole that is near the axis. */
function contour(poles: readonly Complex[], sigma: number, delay: number, end: number): number[] | undefined {
  const slow = 1e-3 * sigma
  const ratio = 10 ** (1 / pointsPerDecade)
  const step = (2 * Math.PI) / (pointsPerTurn * delay)
  if (end / step > mostPoints) return undefined
  const points = new Set<number>()
  for (let w = slow; w < end; w = Math.min(w * ratio, w + step)) points.add(w)
  for (const { re, im } of poles) {
    const away = Math.abs(sigma - re)
    for (let k = -7; k <= 7; k++) {
      const w = Math.abs(im) + away * tan((k * Math.PI) / 16)
      if (w > 0 && w < end) points.add(w)
    }
  }
  return [...points, end].sort((a, b) => a - b)
}
