import { stepFigures } from '../linear'
import type { LoopAnalysis } from './analysis'

/** The figures by which a step of a held quantity is judged, whether predicted, simulated or measured. */
export interface ResponseFigures {
  /** s, 10 to 90 % of the travel */
  readonly rise?: number
  /** share of the travel beyond the reference */
  readonly overshoot: number
  /** s until within 2 % of the travel around where it ends */
  readonly settling?: number
  /** held quantity at the end less its reference, in its unit; nothing where it swings on, or is still under way */
  readonly steadyError?: number
  /** by how much it still swings at the end to either side, in its unit; nothing where it has come to rest or creeps */
  readonly swings?: number
  /** largest push, in its unit */
  readonly peakCommand: number
}

/** Share of the record at its end whose mean counts as where the response ended: evens out sensor noise. */
const endShare = 0.1
/** Of the travel: a mean that still moves less from tenth to tenth has come to its end. */
const stillMoving = 1e-3

/**
 * Figures of a response to a reference that steps to `target` at `from`. Rise and overshoot are measured towards the
 * reference, settling around where it ends: the mean of the last tenth, or, while it still creeps, where its creeping leads.
 * What has not stayed there for a tenth of the record has not settled.
 */
export function responseFigures(
  t: Float64Array,
  held: Float64Array,
  push: Float64Array,
  from: number,
  start: number,
  target: number,
): ResponseFigures {
  let first = 0
  while (first < t.length - 1 && t[first]! < from) first++
  const times = t.subarray(first)
  const values = held.subarray(first)
  const end = endOf(values, Math.abs(target - start))
  const peakCommand = push.subarray(first).reduce((most, value) => Math.max(most, Math.abs(value)), 0)
  const swings = swingOf(values, Math.abs(target - start))
  const last = swings !== undefined ? { swings } : end === undefined ? {} : { steadyError: end - target }
  if (target === start) return { overshoot: 0, ...last, peakCommand }
  const toReference = stepFigures(times, values, { start, final: target })
  const settling = end === undefined ? undefined : stepFigures(times, values, { start, final: end }).settling
  const span = times.at(-1)! - times[0]!
  const stays = settling !== undefined && settling <= (1 - endShare) * span
  return {
    ...(toReference.rise === undefined ? {} : { rise: toReference.rise }),
    overshoot: toReference.overshoot,
    ...(stays && swings === undefined ? { settling } : {}),
    ...last,
    peakCommand,
  }
}

/** What moves on by more from tenth to tenth, as what runs away steadily does, tells no end. */
const mostShare = 0.95

/** How far shares may differ that are those of one slow pole. */
const alike = 0.2

/**
 * Where a response ends: the mean of its last tenth. Where the means of the last four tenths still move on by one share of
 * one another, as they do along a slow pole, it is the end of that series (Aitken 1926, from memory). Nothing where they move
 * on otherwise: a slow swing that is under way tells no end.
 */
function endOf(values: Float64Array, travel: number): number | undefined {
  const length = Math.max(1, Math.floor(values.length * endShare))
  const [zeroth, first, second, last] = [4, 3, 2, 1].map((k) => {
    const part = values.subarray(Math.max(0, values.length - k * length), values.length - (k - 1) * length)
    return part.reduce((total, value) => total + value, 0) / part.length
  }) as [number, number, number, number]
  const [earlier, before, now] = [first - zeroth, second - first, last - second]
  const share = now / before
  const isPole = share > 0 && share < mostShare && Math.abs(share - before / earlier) < alike * share
  if (isPole && Math.abs(now) > stillMoving * travel) return last + (now * share) / (1 - share)
  return travel > 0 && Math.abs(now) > restsWithin * travel ? undefined : last
}

/** Of the travel: what swings by less has come to rest. */
const restsWithin = 0.02
/** A swing that falls by less than this from third to third of the response does not end in it. */
const swingsOn = 0.8
/** Noise crosses its mean at most other samples, a swing at few. */
const mostCrossings = 1 / 8

/** To either side at the end, where that neither ends nor is noise. */
function swingOf(values: Float64Array, travel: number): number | undefined {
  const length = Math.floor(values.length / 3)
  if (length < 8) return undefined
  const [before, last] = [2, 1].map((k) => swingWithin(values.subarray(values.length - k * length, values.length - (k - 1) * length))) // prettier-ignore
  const { half, crossings } = last!
  const isSwing = crossings >= 2 && crossings <= mostCrossings * length
  return isSwing && half > restsWithin * travel && half > swingsOn * before!.half && half > 0 ? half : undefined
}

function swingWithin(part: Float64Array): { half: number; crossings: number } {
  let [least, most, crossings] = [Infinity, -Infinity, 0]
  for (const value of part) {
    least = Math.min(least, value)
    most = Math.max(most, value)
  }
  const middle = (least + most) / 2
  for (let i = 1; i < part.length; i++) if (part[i - 1]! < middle !== part[i]! < middle) crossings++
  return { half: (most - least) / 2, crossings }
}

/** How a disturbance that steps is taken. */
export interface RecoveryFigures {
  /** Largest distance from the reference, with its sign, and s from the step until it. */
  readonly worst: number
  readonly worstAfter: number
  /** s from the step until it stays within a twentieth of the worst; nothing where it does not. */
  readonly recovers?: number
  /** Distance at the end. */
  readonly left: number
}

/** A twentieth of the worst counts as recovered: common practice, no source. */
const recovered = 0.05

/** Figures of what is held, about its reference, after a disturbance that steps at `from`. */
export function recoveryFigures(t: Float64Array, away: Float64Array, from: number): RecoveryFigures {
  let worst = 0
  away.forEach((value, i) => {
    if (Math.abs(value) > Math.abs(away[worst]!)) worst = i
  })
  let last = away.length - 1
  while (last >= 0 && Math.abs(away[last]!) <= recovered * Math.abs(away[worst]!)) last--
  const stays = last < away.length - 1
  return {
    worst: away[worst]!,
    worstAfter: Math.max(0, t[worst]! - from),
    ...(stays ? { recovers: Math.max(0, (t[last + 1] ?? from) - from) } : {}),
    left: away.at(-1)!,
  }
}

/** One line of a bargain: what a change bought, cost or kept. */
export interface BargainLine {
  readonly sort: 'bought' | 'costs' | 'kept'
  readonly figure: 'settling' | 'rise' | 'overshoot' | 'steadyError' | 'peakCommand' | 'gainMargin' | 'phaseMargin'
  /** Amount of the change, positive, in the figure's unit (s, share, m, N, factor, rad). */
  readonly amount: number
  /** Larger or smaller than before. */
  readonly direction: 'more' | 'less'
  /** Amount over what counts as a large change of this figure. */
  readonly share: number
}

/** What counts as a large change of each figure: common practice, no source. */
const largeChange: Record<BargainLine['figure'], number> = {
  settling: 3,
  rise: 2,
  overshoot: 0.1,
  steadyError: 0.3,
  peakCommand: 30,
  gainMargin: 4,
  phaseMargin: 0.5,
}
const worthSaying = 0.02

const size = (value: number | undefined) => (value === undefined ? undefined : Math.abs(value))

/** Design against pinned design, largest first. */
export function bargain(
  now: { figures: ResponseFigures; analysis: LoopAnalysis },
  before: { figures: ResponseFigures; analysis: LoopAnalysis },
): BargainLine[] {
  const rows: [BargainLine['figure'], number | undefined, number | undefined, moreIs: 'good' | 'bad'][] = [
    ['settling', now.figures.settling, before.figures.settling, 'bad'],
    ['rise', now.figures.rise, before.figures.rise, 'bad'],
    ['overshoot', now.figures.overshoot, before.figures.overshoot, 'bad'],
    ['steadyError', size(now.figures.steadyError), size(before.figures.steadyError), 'bad'],
    ['peakCommand', now.figures.peakCommand, before.figures.peakCommand, 'bad'],
    ['gainMargin', now.analysis.gainMargin?.factor, before.analysis.gainMargin?.factor, 'good'],
    ['phaseMargin', now.analysis.phaseMargin, before.analysis.phaseMargin, 'good'],
  ]
  const lines = rows.flatMap(([figure, a, b, moreIs]): BargainLine[] => {
    if (a === undefined || b === undefined) return []
    const share = Math.abs(a - b) / largeChange[figure]
    const direction = a > b ? 'more' : 'less'
    const better = (direction === 'more') === (moreIs === 'good')
    const sort = share < worthSaying ? 'kept' : better ? 'bought' : 'costs'
    return [{ sort, figure, amount: Math.abs(a - b), direction, share }]
  })
  return lines.sort((a, b) => b.share - a.share)
}

/** How a reference that moves is followed. */
export interface FollowingFigures {
  /** s by which what is held comes later; nothing where the reference stands still. */
  readonly lag?: number
  /** Largest and root mean square distance from the reference, in the unit of what is held. */
  readonly worst: number
  readonly rms: number
}

/** Points that are compared, shifts that are tried, and the largest shift as a share of the record. */
const comparedPoints = 400
const shifts = 100
const longestShift = 0.25

/**
 * Lag, worst and mean distance of a response from its reference. The lag is the delay of the reference that fits the
 * response best in the mean square, between the tried shifts by a parabola. Common practice, no source.
 */
export function followingFigures(t: Float64Array, held: Float64Array, reference: (t: number) => number): FollowingFigures {
  const far = held.map((value, i) => Math.abs(value - reference(t[i]!)))
  const every = Math.max(1, Math.floor(t.length / comparedPoints))
  const [times, values] = [t, held].map((column) => column.filter((_, i) => i % every === 0)) as [Float64Array, Float64Array]
  const asked = times.map(reference)
  const worst = far.reduce((most, value) => Math.max(most, value), 0)
  const rms = Math.sqrt(far.reduce((sum, value) => sum + value * value, 0) / Math.max(1, far.length))
  const count = Math.min(shifts, Math.floor(times.length * longestShift))
  if (count < 2 || asked.every((value) => value === asked[0])) return { worst, rms }
  const missed = (shift: number) => values.reduce((sum, value, i) => sum + (value - asked[Math.max(0, i - shift)]!) ** 2, 0)
  const tried = Array.from({ length: count + 1 }, (_, shift) => missed(shift))
  const best = tried.indexOf(Math.min(...tried))
  const [before, at, after] = [tried[best - 1], tried[best]!, tried[best + 1]]
  const bend = before === undefined || after === undefined ? 0 : before - 2 * at + after
  const offset = bend > 0 ? (before! - after!) / (2 * bend) : 0
  return { lag: (best + offset) * (times[1]! - times[0]!), worst, rms }
}
