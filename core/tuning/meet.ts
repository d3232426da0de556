import { keptFrom } from '../control'
import type { Keep } from '../control'
import { exp, log } from '../expression'
import { analyse } from './analysis'
import type { LoopAnalysis } from './analysis'
import { calmMap, mapRange, spaced } from './calmMap'
import { recoveryFigures, responseFigures } from './figures'
import type { Gains, LoopModel } from './loopModel'
import { predict } from './predict'
import type { Prediction, PredictionRequest } from './predict'
import { outOfReach, tune } from './tune'
import type { OutOfReach, Requirement } from './tune'
import { answerWindow } from './window'

export type WishName = Keep['figure']

/** What a loop shall keep; what is left out is free. Overshoot as a share, times in s, the rest in its own unit. */
export type Wishes = Readonly<Partial<Record<WishName, number>>>

export interface MetWish {
  readonly name: WishName
  readonly wanted: number
  /** The worst of all machines looked at. */
  readonly value: number
  /** 1 at its limit, less within. */
  readonly share: number
}

export interface Met {
  readonly kind: 'met'
  readonly requirement: Requirement
  readonly gains: Gains
  /** Whether every wish holds on every machine. */
  readonly holds: boolean
  /** The one that binds first. */
  readonly wishes: readonly MetWish[]
}

const coarse = { columns: 24, rows: 16 }
/** Steps of the search, each halving its reach when nothing near is better. */
const mostSteps = 40
const firstReach = 0.2
const leastReach = 0.02
/** A step is looked at for so many times of the crossover. */
const stepLength = 24
const worst = 1e6
/** rad: beyond it no law of these has a design. */
const mostMargin = 2.5

/**
 * The crossover and margin at which the wish that binds is furthest from its limit: the best place of a coarse calm map, then
 * a pattern search (Hooke & Jeeves, Journal of the ACM 8, 1961). `models` holds the nominal machine first, then others that
 * the same gains must serve. Refused where no place has a stable design.
 */
export function meet(...asked: Parameters<typeof meetSteps>): Met | OutOfReach {
  const steps = meetSteps(...asked)
  for (;;) {
    const { done, value } = steps.next()
    if (done === true) return value
  }
}

/** The same step by step, for whoever shows how far it is: yields the share that is surely done. */
export function* meetSteps(
  models: readonly LoopModel[],
  integralCorner: number,
  wishes: Wishes,
  stepSize: number,
): Generator<number, Met | OutOfReach, void> {
  const nominal = models[0]!
  if (Object.values(wishes).every((wish) => wish === undefined))
    return outOfReach('Nothing is asked of the loop.', 'Give at least one requirement.')
  if (
    nominal.law.notLinear !== undefined ||
    nominal.law.gains.length < 2 ||
    nominal.law.signals.some((one) => nominal.law.gains.includes(one))
  )
    return outOfReach('This search turns crossover and margin of laws with two or three gains.', 'Choose such a law.')
  const judge = (place: Requirement) => judged(models, place, wishes, stepSize)
  yield 0
  const start = startOf(nominal, integralCorner, wishes, stepSize)
  if (start === undefined)
    return outOfReach('No crossover and margin gives a stable design.', 'Choose another law, or a faster sample rate.')
  let best = start
  let found = judge(best)
  let reach = firstReach
  for (let step = 0; step < mostSteps && reach > leastReach; step++) {
    yield Math.max(step / mostSteps, log(firstReach / reach) / log(firstReach / leastReach))
    const before = found.score
    for (const ways of movesOf(nominal.law.gains.length > 2))
      for (const move of ways) {
        const place = move(best, reach)
        const there = judge(place)
        if (!(there.score < found.score)) continue
        best = place
        found = there
        break // the other way is worse then
      }
    if (!(found.score < before)) reach /= 2
  }
  if (found.gains === undefined)
    return outOfReach('The same gains serve some of the machines and upset others.', 'Narrow the ranges of the parameters.')
  const sorted = [...found.wishes].sort((a, b) => b.share - a.share)
  return { kind: 'met', requirement: best, gains: found.gains, holds: found.score <= 1, wishes: sorted }
}

/** The best place of a coarse map of the nominal machine. */
function startOf(model: LoopModel, integralCorner: number, wishes: Wishes, stepSize: number): Requirement | undefined {
  const range = mapRange(model, integralCorner)
  const [crossovers, margins] = [spaced(range.crossovers, coarse.columns, 'log'), spaced(range.margins, coarse.rows, 'linear')]
  const { figures } = calmMap(model, integralCorner, crossovers, margins)
  let best: { place: Requirement; score: number } | undefined
  crossovers.forEach((crossover, i) =>
    margins.forEach((phaseMargin, j) => {
      const at = i * margins.length + j
      if (Number.isNaN(figures.settling[at]!)) return
      const shares = sharesOf(wishes, {
        overshoot: figures.overshoot[at]! / 100,
        settling: figures.settling[at]!,
        peakCommand: figures.peakCommand[at]! * Math.abs(stepSize),
        sensitivityPeak: figures.sensitivityPeak[at]!,
        phaseMargin,
      })
      const score = Math.max(0, ...shares.map(({ share }) => share))
      if (best === undefined || score < best.score) best = { place: { crossover, phaseMargin, integralCorner }, score }
    }),
  )
  return best?.place
}

type Move = (from: Requirement, reach: number) => Requirement

/** Both ways along each of its numbers. */
function movesOf(withCorner: boolean): readonly (readonly Move[])[] {
  const along = (change: (from: Requirement, factor: number) => Requirement): readonly Move[] =>
    [1, -1].map((way) => (from, reach) => change(from, exp(way * reach)))
  return [
    along((from, factor) => ({ ...from, crossover: from.crossover * factor })),
    along((from, factor) => ({ ...from, phaseMargin: Math.min(mostMargin, from.phaseMargin * factor) })),
    ...(withCorner ? [along((from, factor) => ({ ...from, integralCorner: Math.min(1, from.integralCorner * factor) }))] : []),
  ]
}

type Figures = Readonly<Record<WishName, number>>

function judged(models: readonly LoopModel[], place: Requirement, wishes: Wishes, stepSize: number) {
  const nothing = { score: worst, wishes: [] as readonly MetWish[], gains: undefined as Gains | undefined }
  const tuned = tune(models[0]!, place)
  if (tuned.kind === 'outOfReach') return nothing
  const { gains } = tuned
  const names = Object.keys(wishes) as WishName[]
  const each = models.map((model) =>
    keptFigures(model, gains, stepSize, names, (analysis) => answerWindow(model, analysis, place.crossover, stepLength)),
  )
  if (each.some((one) => one === undefined)) return nothing
  const all = each as Partial<Figures>[]
  const worstOf = (name: WishName) => (keptFrom(name) === 'least' ? Math.min : Math.max)(...all.map((one) => one[name]!))
  const shares = sharesOf(wishes, Object.fromEntries(names.map((name) => [name, worstOf(name)])))
  return { score: Math.max(...shares.map(({ share }) => share)), wishes: shares, gains }
}

/** Figures that a loop can be held to, those asked for at least, over as many seconds as are said of it; nothing for a loop that is not stable. */
export function keptFigures(
  model: LoopModel,
  gains: Gains,
  stepSize: number,
  names: readonly WishName[],
  seconds: (analysis: LoopAnalysis) => number,
): Partial<Figures> | undefined {
  const analysis = analyse(model, gains)
  if (!analysis.stable || analysis.phaseMargin === undefined) return undefined
  const until = seconds(analysis)
  const answer = (size: number, disturbance?: PredictionRequest['disturbance']) =>
    predict(model, { gains, reference: () => [size, 0, 0], imbalance: 0, closed: true, until, disturbance })
  const asks = (of: readonly WishName[]) => of.some((name) => names.includes(name))
  const { margins, phaseMargin, gainMargin } = analysis
  return {
    phaseMargin,
    sensitivityPeak: margins.sensitivityPeak.factor,
    gainMargin: gainMargin?.factor ?? Infinity,
    delayMargin: Math.min(Infinity, ...margins.phase.map(({ delay }) => delay)),
    ...(asks(['overshoot', 'settling', 'peakCommand']) ? followed(answer(stepSize), stepSize) : {}),
    ...(asks(['deviation', 'recovery']) ? thrown(answer(0, { through: 'push', value: () => 1 })) : {}),
  }
}

function followed({ t, held, push }: Prediction, stepSize: number): Pick<Figures, 'overshoot' | 'settling' | 'peakCommand'> {
  const { overshoot, settling, peakCommand } = responseFigures(t, held, push, 0, 0, stepSize)
  return { overshoot, settling: settling ?? Infinity, peakCommand }
}

function thrown({ t, held }: Prediction): Pick<Figures, 'deviation' | 'recovery'> {
  const { worst: deviation, recovers } = recoveryFigures(t, held, 0)
  return { deviation: Math.abs(deviation), recovery: recovers ?? Infinity }
}

/** How near each wish is to its limit; what is not known yet is let pass. */
function sharesOf(wishes: Wishes, figures: Partial<Figures>): MetWish[] {
  return (Object.keys(wishes) as WishName[]).flatMap((name) => {
    const wanted = wishes[name]
    const value = figures[name]
    if (wanted === undefined || value === undefined) return []
    // a margin is a least, the others are mosts; an overshoot of 0 is allowed to be asked
    const share = keptFrom(name) === 'least' ? wanted / Math.max(value, 1e-9) : value / Math.max(wanted, 1e-9)
    return [{ name, wanted, value, share: Number.isFinite(share) ? share : worst }]
  })
}
