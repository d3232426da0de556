import { eigenvalues, magnitude } from '../algebra'
import { log } from '../expression'
import type { Complex } from '../algebra'
import { continuousPole, continuousPoles, listed, lookedAtBefore, short } from '../linear'
import type { LoopAnalysis } from './analysis'
import { closedLoop } from './closedLoop'
import type { LoopDesign } from './design'
import type { ResponseFigures } from './figures'
import { halfRate } from './loopModel'
import type { Prediction } from './predict'
import { senseOf } from './tune'

/** What a step of a loop shows, each by a rule of its own. */
export type FindingName =
  | 'notHeld'
  | 'wrongSign'
  | 'sensesLate'
  | 'runsAway'
  | 'swingsWider'
  | 'swingsOn'
  | 'samplesTooSlow'
  | 'crossesAgain'
  | 'alternates'
  | 'hardlyMoves'
  | 'leavesOff'
  | 'creeps'
  | 'overshoots'
  | 'meetsLimit'
  | 'follows'

export interface Finding {
  readonly name: FindingName
  readonly sort: 'wrong' | 'caution' | 'good'
  readonly words: string
}

/** The rules in words, for the documentation: the thresholds are those of the code below. */
export const findingRules: Readonly<Record<FindingName, string>> = {
  notHeld: 'All gains are 0.',
  wrongSign:
    'The loop goes away from its reference, and the gain on the error pushes it there: its sign and that of the plant multiply to the wrong one.',
  sensesLate:
    'The closed loop is unstable, and would be stable if it read what is true: its sensors or estimators take more phase than it has.',
  runsAway: 'A closed-loop pole that does not swing lies outside the unit circle.',
  swingsWider: 'A pair of closed-loop poles lies outside the unit circle, growing by more than a percent a swing.',
  swingsOn: 'A pair of poles slower than a quarter of the sample rate is damped by less than 2 %.',
  samplesTooSlow:
    'Of the plant a swing is faster than half the sample rate, an unstable pole grows by more than two thirds within a sample, or everything dies out three times over between samples.',
  crossesAgain: 'The loop gain crosses 1 more than once below half the sample rate.',
  alternates: 'A pole with negative real part has more than 0.6 of the unit circle: commands turn round from sample to sample.',
  hardlyMoves: 'Less than a fifth of the step is reached.',
  leavesOff: 'The end differs from the reference by more than 2 % of the step, and no integral acts.',
  creeps: 'Settling takes more than eight times the rise, with less than 10 % of overshoot.',
  overshoots: 'The overshoot is more than a quarter of the step.',
  meetsLimit: 'The predicted command goes beyond a limit of the loop, which the prediction does not know.',
  follows: 'None of the others.',
}

const lightlyDamped = 0.02
const alternating = 0.6
/** Damping ratio, negative. */
const hardlyGrowing = 0.0015
const hardly = 0.2
const off = 0.02
const creeping = 8
const much = 0.25
/** Times the fastest unstable pole: where a push shows which way it really goes. */
const beyondUnstable = 3

interface Answered {
  readonly design: LoopDesign
  readonly analysis: LoopAnalysis
  readonly figures: ResponseFigures
  /** The step, its push absolute. */
  readonly step: Prediction
  readonly stepSize: number
}

/** What a step of the loop shows, the gravest first: what makes a loop useless silences the rest. */
export function findings(answered: Answered): Finding[] {
  const { design, analysis, figures, stepSize } = answered
  const { gains, model } = design
  if (analysis.notLinear !== undefined) return []
  if (model.law.gains.length > 0 && model.law.gains.every((gain) => gains[gain] === 0))
    return [{ name: 'notHeld', sort: 'caution', words: 'Nothing holds it: all gains are 0.' }]
  const lost = unstable(analysis.closedPoles, model.dt)
  // a loop that is stable and goes where it is asked pushes the right way, whatever its signs
  const goesAway = lost !== undefined || (stepSize !== 0 && (figures.steadyError ?? 0) / stepSize < -1 - off)
  const wrong =
    goesAway && hasWrongSign(design)
      ? [{ name: 'wrongSign', sort: 'wrong', words: 'Pushes the wrong way: turn the sign of the gain on the error.' } as const]
      : []
  if (lost !== undefined) return [...wrong, lost, ...sensesLate(design), ...samplesTooSlow(design)]
  const list: Finding[] = [...wrong, ...samplesTooSlow(design)]
  const swing = analysis.closedPoles.map((pole) => continuousPole(pole, model.dt)).find((pole) => swingsOn(pole, halfRate(model)))
  if (swing !== undefined)
    list.push({
      name: 'swingsOn',
      sort: 'caution',
      words: `Swings without dying out at ${short(Math.abs(swing.im))} rad/s: no damping. Act on the rate.`,
    })
  if (analysis.closedPoles.some((pole) => pole.re < 0 && magnitude(pole) > alternating))
    list.push({
      name: 'alternates',
      sort: 'caution',
      words: 'Commands turn round from sample to sample: too much gain for this sample rate.',
    })
  const crossings = analysis.margins.phase
  if (crossings.length > 1) {
    const least = crossings.reduce((a, b) => (Math.abs(b.margin) < Math.abs(a.margin) ? b : a))
    const all = crossings.map(({ w }) => short(w))
    list.push({
      name: 'crossesAgain',
      sort: 'caution',
      words: `Crosses over ${crossings.length} times, at ${listed(all)} rad/s: least in hand at ${short(least.w)} rad/s, ${short((least.margin * 180) / Math.PI)}°.`,
    })
  }
  const left = figures.steadyError ?? 0
  const share = stepSize === 0 ? 1 : 1 + left / stepSize
  const isLeft = Math.abs(left) > off * Math.abs(stepSize)
  if (share < hardly)
    list.push({ name: 'hardlyMoves', sort: 'caution', words: `Hardly moves: ${percent(share)} of the step is reached.` })
  else if (isLeft && gains.ki === 0)
    list.push({
      name: 'leavesOff',
      sort: 'caution',
      words: `Ends off by ${percent(Math.abs(left / stepSize))} of the step: what is left over the gain. An integral, or what is carried beforehand, takes it away.`,
    })
  if (figures.overshoot > much)
    list.push({
      name: 'overshoots',
      sort: 'caution',
      words: `Overshoots by ${percent(figures.overshoot)}: little phase in hand, or an integral too quick.`,
    })
  const { settling = 0, rise = Infinity } = figures
  if (settling > creeping * rise && figures.overshoot < 0.1)
    list.push({
      name: 'creeps',
      sort: 'caution',
      words: `Creeps to its end: settles in ${short(settling)} s after a rise of ${short(rise)} s.`,
    })
  const limit = beyondLimit(answered)
  if (limit !== undefined) list.push({ name: 'meetsLimit', sort: 'caution', words: limit })
  return list.length > 0 ? list : [{ name: 'follows', sort: 'good', words: 'Follows: no finding.' }]
}

/** What stands between machine and law upsets a loop that would be stable without. */
function sensesLate({ model, gains, values }: Pick<LoopDesign, 'model' | 'gains' | 'values'>): Finding[] {
  const { truth } = model.shown
  if (truth === 0) return []
  const exact = { ...model, read: lookedAtBefore(model.sampled), known: undefined, shown: { ...model.shown, truth: 0 } }
  if (unstable(eigenvalues(closedLoop(exact, gains).a) ?? [], model.dt) !== undefined) return []
  const who = values.reads === 'measured' ? 'sensor' : 'estimator'
  const words = `As things truly are it would be stable: its ${who} takes more phase than it has. Let the ${who} be quicker, or the loop slower.`
  return [{ name: 'sensesLate', sort: 'wrong', words }]
}

/** Times its time constant that a mode has died out, or grown, within a sample. */
const diedOut = 3
const grown = 0.5
/** A swing damped more than this is no swing to be seen. */
const seenSwing = 0.7

/** A sample time that is longer than what the machine does. */
function samplesTooSlow({ model }: Pick<LoopDesign, 'model'>): Finding[] {
  const { plant, dt } = model
  if (plant.dt !== null) return []
  const poles = continuousPoles(plant) ?? []
  const half = halfRate(model)
  const say = (words: string): Finding[] => [{ name: 'samplesTooSlow', sort: 'caution', words }]
  const swing = poles.find((pole) => pole.im > half && Math.abs(pole.re) < seenSwing * magnitude(pole))
  if (swing !== undefined)
    return say(
      `Samples come too seldom: the machine swings at ${short(swing.im)} rad/s, which looks slower at this rate. Sample at least ${short(Math.ceil(swing.im / Math.PI) * 2)} times a second.`,
    )
  const running = poles.find(({ re }) => re * dt > grown)
  if (running !== undefined)
    return say(`Samples come too seldom: left alone the machine runs off faster than that, at ${short(running.re)} 1/s.`)
  if (poles.length > 0 && poles.every(({ re }) => -re * dt > diedOut))
    return say('Samples come too seldom: everything has died out before the next one, so the law acts on what is over.')
  return []
}

/** Whether the gain on the error and the plant multiply to the wrong sign. Of a law that feeds back more, nothing follows from one gain. */
export function hasWrongSign({ gains, model }: Pick<LoopDesign, 'gains' | 'model'>): boolean {
  if (!(Math.abs(gains.kp) > 0) || model.law.signals.length > 0) return false
  const unstablePoles = (continuousPoles(model.plant) ?? []).filter(({ re }) => re > 0)
  const fastest = Math.max(0, ...unstablePoles.map(magnitude))
  const pace = Math.min(Math.max(beyondUnstable * fastest, 1e-6 / model.dt), halfRate(model))
  return senseOf(model, pace) * gains.kp < 0
}

function unstable(poles: readonly Complex[], dt: number): Finding | undefined {
  const worst = [...poles].sort((a, b) => magnitude(b) - magnitude(a))[0]
  // an integrator that the loop does not reach stands still
  if (worst === undefined || magnitude(worst) <= 1 + 1e-9) return undefined
  const { re, im } = continuousPole(worst, dt)
  // what grows by less than a percent a swing swings on, as far as anyone can see
  if (im !== 0 && re < hardlyGrowing * Math.abs(im)) return undefined
  const doubling = short(log(2) / re)
  return worst.im === 0
    ? { name: 'runsAway', sort: 'wrong', words: `Unstable: runs away, twice as far every ${doubling} s.` }
    : { name: 'swingsWider', sort: 'wrong', words: `Unstable: swings ever wider, twice as far every ${doubling} s.` }
}

function swingsOn({ re, im }: Complex, half: number): boolean {
  const size = magnitude({ re, im })
  return im !== 0 && size < half / 2 && -re < lightlyDamped * size
}

function beyondLimit({ design, step }: Answered): string | undefined {
  const { least, most } = design.values
  const [low, high] = step.push.reduce(([a, b], value) => [Math.min(a, value), Math.max(b, value)] as const, [
    Infinity,
    -Infinity,
  ] as const)
  if (most !== undefined && high > most) return `The command would go to ${short(high)}, beyond its most of ${short(most)}.`
  return least !== undefined && low < least
    ? `The command would go to ${short(low)}, below its least of ${short(least)}.`
    : undefined
}

function percent(share: number): string {
  return `${Number((100 * share).toPrecision(2))} %`
}
