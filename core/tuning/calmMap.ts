import { complex, eigenvalues, magnitude, multiply, plusMatrix, times, zeros } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { atan2 } from '../expression'
import { frequencyGrid } from '../linear'
import type { GainName } from '../control'
import { closedLoop } from './closedLoop'
import { halfRate, loopGain } from './loopModel'
import type { Gains, LoopModel } from './loopModel'
import { gainsFor, noGains, reachAt } from './tune'

/** By what designs of a loop are judged on its map. */
export type MapFigure = 'settling' | 'overshoot' | 'sensitivityPeak' | 'peakCommand'

export const mapFigures: Readonly<Record<MapFigure, { readonly label: string; readonly unit: string }>> = {
  settling: { label: 'settling', unit: 's' },
  overshoot: { label: 'overshoot', unit: '%' },
  sensitivityPeak: { label: 'peak sensitivity', unit: '' },
  peakCommand: { label: 'command peak', unit: '' },
}

/** Why there is no stable design at a place. */
export const unreached = { reached: 0, tooMuchMargin: 1, tooLittleMargin: 2, unstable: 3, tooFast: 4 } as const

export interface CalmMap {
  /** rad/s, evenly spaced in their logarithm */
  readonly crossovers: readonly number[]
  /** rad */
  readonly margins: readonly number[]
  /** One value a place, margins running fastest; NaN where there is no stable design, Infinity where it does not settle. */
  readonly figures: Readonly<Record<MapFigure, Float64Array>>
  /** One of `unreached` a place. */
  readonly why: Uint8Array
}

export interface MapRange {
  readonly crossovers: readonly [number, number]
  readonly margins: readonly [number, number]
}

const degrees = Math.PI / 180
const mapMargins: readonly [number, number] = [10 * degrees, 85 * degrees]
/** Phases in hand of which one must be in reach; below the first a design is not worth drawing. */
const usefulMargins = [15 * degrees, 25 * degrees, 45 * degrees, 65 * degrees]
/** Decades of crossover shown below the fastest useful one. */
const decadesShown = 1.7
const samplesOfStep = 600
/** Times of the crossover: long enough to settle. */
const stepLength = 24

/** What a map shows: up to a little beyond the fastest crossover that leaves some phase in hand. */
export function mapRange(model: LoopModel, integralCorner: number): MapRange {
  const top = halfRate(model) * 0.98
  const isUseful = (w: number) => {
    const reach = reachAt(model, w, integralCorner)
    return reach.kind === 'reach' && usefulMargins.some((margin) => gainsFor(reach, margin).kind === 'tuned')
  }
  const grid = frequencyGrid(top / 1e4, top).filter((_, i) => i % 4 === 0)
  // stretches that leave some phase: above the last that holds it only comes round again
  const stretches: number[][] = []
  grid.forEach((w, i) => {
    if (!isUseful(w)) return
    if (i > 0 && stretches.at(-1)?.at(-1) === grid[i - 1]) stretches.at(-1)!.push(w)
    else stretches.push([w])
  })
  const last = stretches.reverse().find((stretch) => holdsWithin(model, integralCorner, stretch))
  const fastest = last?.at(-1) ?? top / 10
  const most = Math.min(top, fastest * 1.5)
  return { crossovers: [most / 10 ** decadesShown, most], margins: mapMargins }
}

/** Whether some design that crosses over at one of these frequencies holds. */
function holdsWithin(model: LoopModel, integralCorner: number, crossovers: readonly number[]): boolean {
  const tried = [0.3, 0.6, 0.9].map((share) => crossovers[Math.floor(share * (crossovers.length - 1))]!)
  return tried.some((w) => {
    const reach = reachAt(model, w, integralCorner)
    if (reach.kind === 'outOfReach') return false
    return usefulMargins.some((margin) => {
      const tuned = gainsFor(reach, margin)
      return tuned.kind === 'tuned' && isStable(closedLoop(model, tuned.gains).a)
    })
  })
}

/** `count` values from first to last, evenly in their logarithm or as they are. */
export function spaced([first, last]: readonly [number, number], count: number, scale: 'log' | 'linear'): number[] {
  return Array.from({ length: count }, (_, i) => {
    const share = count === 1 ? 0 : i / (count - 1)
    return scale === 'log' ? first * (last / first) ** share : first + share * (last - first)
  })
}

/**
 * All designs of a loop with two gains that are free: crossover across, phase margin up, each judged by its step and its
 * sensitivity. Steps are looked at in 600 samples, so narrow peaks of a slow loop are seen to about a percent.
 */
export function calmMap(
  model: LoopModel,
  integralCorner: number,
  crossovers: readonly number[],
  marginsUp: readonly number[],
): CalmMap {
  const count = crossovers.length * marginsUp.length
  const figures = {
    settling: new Float64Array(count).fill(NaN),
    overshoot: new Float64Array(count).fill(NaN),
    sensitivityPeak: new Float64Array(count).fill(NaN),
    peakCommand: new Float64Array(count).fill(NaN),
  }
  const why = new Uint8Array(count)
  const parts = partsOf(model)
  let at = 0
  for (const crossover of crossovers) {
    const reach = reachAt(model, crossover, integralCorner)
    const seen = sensitivityGrid(model, crossover, parts.names)
    for (const margin of marginsUp) {
      const place = at++
      if (reach.kind === 'outOfReach') {
        why[place] = unreached.tooFast
        continue
      }
      const tuned = gainsFor(reach, margin)
      if (tuned.kind === 'outOfReach') {
        why[place] = asksTooMuch(reach.effects, margin) ? unreached.tooMuchMargin : unreached.tooLittleMargin
        continue
      }
      const loop = withGains(parts, tuned.gains)
      if (!isStable(loop.a)) {
        why[place] = unreached.unstable
        continue
      }
      const step = stepOf(loop, model.dt, crossover)
      figures.settling[place] = step.settling
      figures.overshoot[place] = 100 * step.overshoot
      figures.peakCommand[place] = step.peak
      figures.sensitivityPeak[place] = sensitivityPeak(seen, parts.names, tuned.gains)
    }
  }
  return { crossovers, margins: marginsUp, figures, why }
}

/** Whether the margin asked is above all that the gains can leave. */
function asksTooMuch(effects: readonly Complex[], margin: number): boolean {
  return effects.every(({ re, im }) => atan2(-im, -re) < margin)
}

interface Loop {
  readonly a: Matrix
  readonly b: Matrix
  readonly c: Matrix
  readonly d: Matrix
}

interface Parts {
  readonly names: readonly GainName[]
  readonly base: Loop
  /** What one of each gain adds: the closed loop is linear in its gains. */
  readonly each: readonly Loop[]
}

function partsOf(model: LoopModel): Parts {
  const names = model.law.gains
  const base = closedLoop(model, noGains)
  const each = names.map((name) => {
    const one = closedLoop(model, { ...noGains, [name]: 1 })
    const more = (of: 'a' | 'b' | 'c' | 'd') => plusMatrix(one[of], times(base[of], -1))
    return { a: more('a'), b: more('b'), c: more('c'), d: more('d') }
  })
  return { names, base, each }
}

function withGains({ names, base, each }: Parts, gains: Gains): Loop {
  const sum = (of: keyof Loop) =>
    names.reduce<Matrix>((total, name, i) => plusMatrix(total, times(each[i]![of], gains[name]!)), base[of])
  return { a: sum('a'), b: sum('b'), c: sum('c'), d: sum('d') }
}

function isStable(a: Matrix): boolean {
  const all = eigenvalues(a)
  return all !== undefined && all.every((pole) => magnitude(pole) < 1 - 1e-12)
}

/** A unit step, several samples at once where the loop is slow beside its rate. */
function stepOf(loop: Loop, dt: number, crossover: number): { settling: number; overshoot: number; peak: number } {
  const many = Math.max(1, Math.floor(stepLength / crossover / dt / samplesOfStep))
  const { a, b } = power(loop, many)
  const n = a.length
  const [flat, push] = [Float64Array.from(a.flat()), Float64Array.from(b.map((row) => row[0]!))]
  const [held, command] = loop.c
  const direct = loop.d[1]![0]!
  const values = new Float64Array(samplesOfStep)
  let x = new Float64Array(n)
  let next = new Float64Array(n)
  let [peak, highest] = [0, 0]
  for (let k = 0; k < samplesOfStep; k++) {
    let [y, u] = [0, direct]
    for (let j = 0; j < n; j++) {
      y += held![j]! * x[j]!
      u += command![j]! * x[j]!
    }
    values[k] = y
    highest = Math.max(highest, y)
    peak = Math.max(peak, Math.abs(u))
    for (let i = 0; i < n; i++) {
      let sum = push[i]!
      for (let j = 0; j < n; j++) sum += flat[i * n + j]! * x[j]!
      next[i] = sum
    }
    ;[x, next] = [next, x]
  }
  const tail = values.subarray(Math.floor(0.9 * samplesOfStep)) // as `responseFigures` finds where a response ends
  const end = tail.reduce((sum, value) => sum + value, 0) / tail.length
  let last = samplesOfStep - 1
  while (last >= 0 && Math.abs(values[last]! - end) <= 0.02 * Math.abs(end)) last--
  // still moving near the end: it has not settled in this time
  const settling = last + 1 > 0.9 * samplesOfStep ? Infinity : (last + 1) * many * dt
  return { settling, overshoot: Math.max(0, highest - 1), peak }
}

/** The same loop over several samples with its reference held. */
function power({ a, b }: Pick<Loop, 'a' | 'b'>, times: number): { a: Matrix; b: Matrix } {
  let [powered, summed]: [Matrix, Matrix] = [a, b]
  let [left, out]: [number, { a: Matrix; b: Matrix } | undefined] = [times, undefined]
  while (left > 0) {
    if (left % 2 === 1)
      out =
        out === undefined
          ? { a: powered, b: summed }
          : { a: multiply(powered, out.a), b: plusMatrix(multiply(powered, out.b), summed) }
    summed = plusMatrix(multiply(powered, summed), summed)
    powered = multiply(powered, powered)
    left = Math.floor(left / 2)
  }
  return out ?? { a, b: zeros(b.length, 1) }
}

/** The loop gain that one of each gain makes, about the crossover: there sensitivity peaks. */
function sensitivityGrid(model: LoopModel, crossover: number, names: readonly GainName[]): Complex[][] {
  const top = halfRate(model) * 0.999
  const grid = spaced([Math.min(crossover / 8, top / 2), Math.min(crossover * 12, top)], 90, 'log')
  const each = names.map((name) => loopGain(model, { ...noGains, [name]: 1 }))
  return grid.map((w) => each.map((loop) => loop(w) ?? complex(0)))
}

function sensitivityPeak(seen: readonly (readonly Complex[])[], names: readonly GainName[], gains: Gains): number {
  let least = Infinity
  for (const point of seen) {
    let [re, im] = [1, 0]
    point.forEach((effect, i) => {
      re += gains[names[i]!]! * effect.re
      im += gains[names[i]!]! * effect.im
    })
    least = Math.min(least, re * re + im * im)
  }
  return 1 / Math.sqrt(least)
}
