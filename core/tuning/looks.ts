import { complex, eigenvalues, eigenvaluesWithin, magnitude, overComplex } from '../algebra'
import type { Complex } from '../algebra'
import { withTrueNumbers } from '../control'
import { cos, sin } from '../expression'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { continuousPole, poles, responder, transmissionZeros, withOutputs } from '../linear'
import type { LoopAnalysis } from './analysis'
import { closedLoop } from './closedLoop'
import { modelOfLoop } from './design'
import { onUnitCircle } from './loopModel'
import type { Gains, LoopModel } from './loopModel'
import { entriesWith, packedLoop } from './packedLoop'
import { withGainsFixed } from './spread'
import { noGains } from './tune'

/** One frequency of a loop: its gain L as a point of the plane, and what follows from it. */
export interface LoopPoint {
  /** rad/s */
  readonly w: number
  readonly loop: Complex
  /** |1/(1 + L)| and |L/(1 + L)| */
  readonly sensitivity: number
  readonly complementary: number
  /** |what is held over its reference| */
  readonly follows: number
}

/** The loop gain over the plane, sensitivity, complementary sensitivity and the answer to the reference, for drawing. */
export function loopPoints(model: LoopModel, gains: Gains, { curve }: Pick<LoopAnalysis, 'curve'>): LoopPoint[] {
  const closed = responder(closedLoop(model, gains))
  return curve.map(({ w, magnitude: size, phase }) => {
    const loop = complex(size * cos(phase), size * sin(phase))
    const back = complex(1 + loop.re, loop.im)
    const answer = closed(onUnitCircle(w, model.dt))?.[0]?.[0]
    return {
      w,
      loop,
      sensitivity: 1 / magnitude(back),
      complementary: magnitude(overComplex(loop, back)),
      follows: answer === undefined ? NaN : magnitude(answer),
    }
  })
}

/** Poles and zeros as of continuous systems, 1/s: of the plant between push and what is held, and of the closed loop. */
export interface PoleMap {
  readonly plantPoles: readonly Complex[]
  readonly plantZeros: readonly Complex[]
  readonly closedPoles: readonly Complex[]
}

/** A sampled pole nearer to 0 than this is a delay: over at once, and far out to the left. */
const delayPole = 1e-3

function asContinuous(all: readonly Complex[], dt: number | null): Complex[] {
  return all.filter((pole) => dt === null || magnitude(pole) > delayPole).map((pole) => continuousPole(pole, dt))
}

export function poleMap({ plant, dt }: LoopModel, { closedPoles }: Pick<LoopAnalysis, 'closedPoles'>): PoleMap {
  const channel = withOutputs(plant, [0])
  return {
    plantPoles: asContinuous(poles(plant) ?? [], plant.dt),
    plantZeros: asContinuous(transmissionZeros(channel) ?? [], plant.dt),
    closedPoles: asContinuous(closedPoles, dt),
  }
}

/** Where the closed-loop poles go as something changes. */
export interface RootLocus {
  readonly values: readonly number[]
  /** 1/s, one list a value */
  readonly poles: readonly (readonly Complex[])[]
}

/**
 * Closed-loop poles while one gain, or all of them together, goes through factors of its value (Evans, Transactions of the
 * AIEE 67, 1948). The closed loop is linear in its gains, so each needs only its eigenvalues.
 */
export function rootLocus(model: LoopModel, gains: Gains, gain: string | undefined, factors: readonly number[]): RootLocus {
  const loop = packedLoop(model)
  const n = loop.states
  const fixed = gain === undefined ? noGains : { ...gains, [gain]: 0 }
  const moved = gain === undefined ? gains : { ...noGains, [gain]: gains[gain] ?? 0 }
  const [none, base, more] = [noGains, fixed, moved].map((some) => entriesWith(loop, some)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ]
  const all = factors.map((factor) => {
    const a = new Float64Array(n * n)
    for (let i = 0; i < n * n; i++) a[i] = base[i]! + factor * (more[i]! - none[i]!)
    return eigenvaluesWithin(a, n) ?? []
  })
  return { values: factors, poles: all.map((some) => asContinuous(some, model.dt)) }
}

/**
 * The same while a number of the machine goes through factors of its value, the gains of all loops as they are. Values at which there is no
 * operating point or loop leave a gap.
 */
export function parameterLocus(
  document: Document,
  loop: string,
  path: string,
  value: number,
  gains: Gains,
  factors: readonly number[],
): RootLocus {
  const machine = document.loops[loop]!.machine
  const fixed = withGainsFixed(document)
  const own = fixed.machines[machine]!
  const found = factors.map((factor) => {
    const changed = modelOfLoop(replaceAt(fixed, `machines.${machine}`, withTrueNumbers(own, { [path]: factor })), loop)
    if (changed.kind === 'refused') return []
    const { model } = changed.value
    return asContinuous(eigenvalues(closedLoop(model, gains).a) ?? [], model.dt)
  })
  return { values: factors.map((factor) => value * factor), poles: found }
}
