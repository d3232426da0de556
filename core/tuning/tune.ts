import { complex, magnitude, solve, timesComplex } from '../algebra'
import { atan2, cos, exp, sin } from '../expression'
import type { Complex } from '../algebra'
import { responseAt } from '../linear'
import { halfRate, loopPaths } from './loopModel'
import type { Gains, LoopModel, LoopPaths } from './loopModel'

export interface Requirement {
  /** rad/s */
  readonly crossover: number
  /** rad */
  readonly phaseMargin: number
  /** Integral corner as a share of the crossover (PID). */
  readonly integralCorner: number
}

export interface OutOfReach {
  readonly kind: 'outOfReach'
  readonly what: string
  readonly remedy: string
  /** Where it lies, if not in the whole of what is asked. */
  readonly slot?: string
}

export function outOfReach(what: string, remedy: string): OutOfReach {
  return { kind: 'outOfReach', what, remedy }
}

export type Tuned = { readonly kind: 'tuned'; readonly gains: Gains } | OutOfReach

export const noGains: Gains = { kp: 0, ki: 0, kd: 0 }

/**
 * Gains that make the loop cross over at the asked frequency with the asked phase left. The loop gain is linear in
 * the gains, so L(w) = -e^(j margin) is two real equations: solved exactly. P has one gain: it meets the crossover
 * and the margin is what it is. PID: ki = integralCorner crossover kp.
 */
export function tune(model: LoopModel, { crossover, phaseMargin, integralCorner }: Requirement): Tuned {
  const reach = reachAt(model, crossover, integralCorner)
  return reach.kind === 'outOfReach' ? reach : gainsFor(reach, phaseMargin)
}

/** What the gains of a law can do at one frequency. */
export interface Reach {
  readonly kind: 'reach'
  /** rad/s */
  readonly crossover: number
  /** Independent gain vectors, and what each makes of the paths around the loop. */
  readonly directions: readonly Gains[]
  readonly paths: readonly LoopPaths[]
  readonly isSensed: boolean
  readonly sense: 1 | -1
}

/** The first half of `tune`, the same for every margin. */
export function reachAt(model: LoopModel, crossover: number, integralCorner: number): Reach | OutOfReach {
  if (crossover >= halfRate(model)) {
    const what = `The crossover of ${show(crossover)} rad/s lies above half the sample rate, ${show(halfRate(model))} rad/s.`
    return { kind: 'outOfReach', what, remedy: 'Lower the crossover or raise the sample rate.' }
  }
  const directions = gainDirections(model, crossover, integralCorner)
  const paths = directions.map((gains) => loopPaths(model, gains)(crossover))
  if (paths.some((path) => path === undefined || magnitude(path.all) === 0)) {
    return {
      kind: 'outOfReach',
      what: `At ${show(crossover)} rad/s the push does not reach what is held.`,
      remedy: 'Choose another push or crossover.',
    }
  }
  const sense = senseOf(model, crossover)
  const turned = ({ re, im }: Complex) => complex(sense * re, sense * im)
  const known = ({ known: one }: LoopPaths) => (one === undefined ? undefined : turned(one))
  return {
    ...{ kind: 'reach', crossover, directions, sense, isSensed: model.shown.truth !== 0 },
    paths: (paths as LoopPaths[]).map((path) => ({ all: turned(path.all), known: known(path) })),
  }
}

/**
 * The loop gain that each gain vector makes where it is -e^(j margin) =: t. Of one whose estimator knows the push it is
 * (all - known) / (1 + known), which is t where all - (1 + t) known is.
 */
export function effectsAt({ paths }: Reach, phaseMargin: number): readonly Complex[] {
  const share = complex(1 - cos(phaseMargin), -sin(phaseMargin))
  return paths.map(({ all, known }) => {
    if (known === undefined) return all
    const own = timesComplex(share, known)
    return complex(all.re - own.re, all.im - own.im)
  })
}

/** The factor of the only gain that makes the loop gain 1. `undefined` where none does. */
function solveOne({ all, known }: LoopPaths): number[] | undefined {
  if (known === undefined) return [1 / magnitude(all)]
  // |all - known|² g² = |1 + known g|²
  const own = known.re * known.re + known.im * known.im
  const through = (all.re - known.re) ** 2 + (all.im - known.im) ** 2 - own
  const root = Math.sqrt(known.re * known.re + through)
  const found = through > 0 ? (known.re + root) / through : undefined
  return found === undefined ? undefined : [found]
}

/** The second half of `tune`. */
export function gainsFor(reach: Reach, phaseMargin: number): Tuned {
  const { crossover, directions, paths, sense } = reach
  const effects = effectsAt(reach, phaseMargin)
  const factors = paths.length === 1 ? solveOne(paths[0]!) : solveTwo(effects, phaseMargin)
  if (factors === undefined)
    return { kind: 'outOfReach', what: 'Both gains of the law act alike at this frequency.', remedy: 'Choose another crossover.' }
  if (factors.some((factor) => factor < 0)) return beyondReach(reach, effects, crossover, phaseMargin)
  const gains: Record<string, number> = { ...noGains }
  directions.forEach((direction, i) => {
    for (const name of Object.keys(direction)) gains[name] = gains[name]! + sense * factors[i]! * direction[name]!
  })
  return { kind: 'tuned', gains: gains as Gains }
}

/** Which way a push moves what is held, at a pace in rad/s: -1 where a positive push lowers it. */
export function senseOf({ sampled, dt }: Pick<LoopModel, 'sampled' | 'dt'>, pace: number): 1 | -1 {
  const at = responseAt(sampled, complex(exp(pace * dt)))?.[0]?.[0]
  return at !== undefined && at.re < 0 ? -1 : 1
}

/** rad a sample: slow beside everything. */
const atRest = 1e-6

/** The same for a push that stays. */
export function senseAtRest(model: Pick<LoopModel, 'sampled' | 'dt'>): 1 | -1 {
  return senseOf(model, atRest / model.dt)
}

/** The independent gain vectors of a law: one for P, two for the others. */
function gainDirections({ law }: LoopModel, crossover: number, integralCorner: number): Gains[] {
  if (law.gains.length < 3) return law.gains.map((name) => ({ ...noGains, [name]: 1 }))
  return [
    { kp: 1, ki: integralCorner * crossover, kd: 0 },
    { kp: 0, ki: 0, kd: 1 },
  ]
}

function solveTwo([a, b]: readonly Complex[], phaseMargin: number): number[] | undefined {
  const target = complex(-cos(phaseMargin), -sin(phaseMargin))
  const rows = [
    [a!.re, b!.re],
    [a!.im, b!.im],
  ]
  return solve(rows, [[target.re], [target.im]])?.map((row) => row[0]!)
}

function beyondReach({ isSensed }: Reach, effects: readonly Complex[], crossover: number, phaseMargin: number): Tuned {
  const margins = effects.map((effect) => degrees(atan2(-effect.im, -effect.re))).sort((a, b) => a - b)
  const [low, high] = margins as [number, number]
  // gains above 0 reach what lies between, the short way round
  const [least, most] = high - low > 180 ? [high, low + 360] : [low, high]
  const asked = degrees(phaseMargin)
  const what = `At ${show(crossover)} rad/s this law can leave between ${least.toFixed(1)}° and ${most.toFixed(1)}° of phase margin, with machine, lags${isSensed ? ', sensors' : ''} and delay counted; ${asked.toFixed(1)}° are asked.`
  const remedy =
    asked > most
      ? `Ask for at most ${most.toFixed(1)}°, or a lower crossover.`
      : `Ask for at least ${least.toFixed(1)}°, or a higher crossover.`
  return { kind: 'outOfReach', what, remedy }
}

function degrees(angle: number): number {
  return (angle * 180) / Math.PI
}

function show(value: number): string {
  return String(Number(value.toPrecision(4)))
}
