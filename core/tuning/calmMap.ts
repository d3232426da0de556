import { complex } from '../algebra'
import type { Complex } from '../algebra'
import { atan2 } from '../expression'
import { frequencyGrid } from '../linear'
import type { GainName } from '../control'
import { halfRate, loopPaths } from './loopModel'
import type { Gains, LoopModel, LoopPaths } from './loopModel'
import { entriesWith, isStableWith, packedLoop, unitStep } from './packedLoop'
import { effectsAt, gainsFor, noGains, reachAt } from './tune'

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
  const parts = packedLoop(model)
  const tried = [0.3, 0.6, 0.9].map((share) => crossovers[Math.floor(share * (crossovers.length - 1))]!)
  return tried.some((w) => {
    const reach = reachAt(model, w, integralCorner)
    if (reach.kind === 'outOfReach') return false
    return usefulMargins.some((margin) => {
      const tuned = gainsFor(reach, margin)
      return tuned.kind === 'tuned' && isStableWith(entriesWith(parts, tuned.gains), parts, tuned.gains)
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
  const parts = packedLoop(model)
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
        why[place] = asksTooMuch(effectsAt(reach, margin), margin) ? unreached.tooMuchMargin : unreached.tooLittleMargin
        continue
      }
      const loop = entriesWith(parts, tuned.gains)
      if (!isStableWith(loop, parts, tuned.gains)) {
        why[place] = unreached.unstable
        continue
      }
      const step = stepOf(loop, parts.states, model.dt, crossover)
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

/** A unit step, several samples at once where the loop is slow beside its rate. */
function stepOf(
  loop: Float64Array,
  n: number,
  dt: number,
  crossover: number,
): { settling: number; overshoot: number; peak: number } {
  const many = Math.max(1, Math.floor(stepLength / crossover / dt / samplesOfStep))
  const values = new Float64Array(samplesOfStep)
  const peak = unitStep(loop, n, many, values)
  let highest = 0
  let total = 0
  const tail = Math.floor(0.9 * samplesOfStep) // as `responseFigures` finds where a response ends
  for (let k = 0; k < samplesOfStep; k++) {
    if (values[k]! > highest) highest = values[k]!
    if (k >= tail) total += values[k]!
  }
  const end = total / (samplesOfStep - tail)
  let last = samplesOfStep - 1
  while (last >= 0 && Math.abs(values[last]! - end) <= 0.02 * Math.abs(end)) last--
  // still moving near the end: it has not settled in this time
  const settling = last + 1 > 0.9 * samplesOfStep ? Infinity : (last + 1) * many * dt
  return { settling, overshoot: Math.max(0, highest - 1), peak }
}

/** What one of each gain makes of the paths around the loop, about the crossover: there sensitivity peaks. */
function sensitivityGrid(model: LoopModel, crossover: number, names: readonly GainName[]): LoopPaths[][] {
  const top = halfRate(model) * 0.999
  const grid = spaced([Math.min(crossover / 8, top / 2), Math.min(crossover * 12, top)], 90, 'log')
  const each = names.map((name) => loopPaths(model, { ...noGains, [name]: 1 }))
  return grid.map((w) => each.map((paths) => paths(w) ?? { all: complex(0), known: undefined }))
}

/** Of 1 / (1 + loop gain), which is (1 + known) / (1 + all). */
function sensitivityPeak(seen: readonly (readonly LoopPaths[])[], names: readonly GainName[], gains: Gains): number {
  let least = Infinity
  for (const point of seen) {
    let [re, im, ownRe, ownIm] = [1, 0, 1, 0]
    point.forEach(({ all, known }, i) => {
      const gain = gains[names[i]!]!
      re += gain * all.re
      im += gain * all.im
      if (known === undefined) return
      ownRe += gain * known.re
      ownIm += gain * known.im
    })
    least = Math.min(least, (re * re + im * im) / (ownRe * ownRe + ownIm * ownIm))
  }
  return 1 / Math.sqrt(least)
}
