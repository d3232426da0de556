import type { Document } from '@calm-hand/core/document'
import { balancedReduction, frequencyGrid, responder, withOutputs } from '@calm-hand/core/linear'
import type { StateSpace } from '@calm-hand/core/linear'
import { analyse, designLoop, halfRate, loopPoints, parameterLocus, poleMap, rootLocus } from '@calm-hand/core/tuning'
import type { LoopPoint, PoleMap, RootLocus } from '@calm-hand/core/tuning'

/** The loop gain and what follows from it, over frequency. Like the others here nothing where a loop has no design. */
export function points(document: Document, loop: string): readonly LoopPoint[] {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return []
  const { model, gains } = design.value
  return loopPoints(model, gains, analyse(model, gains))
}

export function polesAndZeros(document: Document, loop: string): PoleMap | undefined {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return undefined
  const { model, gains } = design.value
  return poleMap(model, analyse(model, gains))
}

const gainFactors = Array.from({ length: 400 }, (_, i) => 10 ** (-1.5 + (2.5 * i) / 399))
const numberFactors = Array.from({ length: 25 }, (_, i) => 2 ** (-1 + i / 12))

/** What changes while poles are followed: all gains together, one of them, or a number of the machine. */
export type Over =
  | { readonly kind: 'gains' }
  | { readonly kind: 'gain'; readonly name: string }
  | { readonly kind: 'number'; readonly path: string; readonly value: number }

export function locus(document: Document, loop: string, over: Over): RootLocus | undefined {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return undefined
  const { model, gains } = design.value
  return over.kind === 'number'
    ? parameterLocus(document, loop, over.path, over.value, gains, numberFactors)
    : rootLocus(model, gains, over.kind === 'gain' ? over.name : undefined, gainFactors)
}

/** A form of the plant by what it answers. */
export interface FormCurve {
  readonly name: string
  /** dB, and degrees followed from frequency to frequency. */
  readonly gain: readonly number[]
  readonly phase: readonly number[]
}

export interface LoopForms {
  /** rad/s */
  readonly frequencies: readonly number[]
  /** As it is, sampled with its hold, and with fewer states where that can be. */
  readonly curves: readonly FormCurve[]
  /** Of the plant as it is, and how many the shorter one keeps. */
  readonly states: number
  readonly order: number
  /** What leaving states out costs, or why they cannot be left out. */
  readonly words: string
}

const every = 4

/** The plant that a loop sees as it is, sampled with its hold, and with `wanted` states, all but one where nothing is said. */
export function forms(document: Document, loop: string, wanted: number | undefined): LoopForms | undefined {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return undefined
  const { model } = design.value
  const whole = withOutputs(model.plant, [0])
  const states = whole.a.length
  const order = Math.min(wanted ?? Math.max(1, states - 1), states)
  const top = halfRate(model) * 0.999
  const frequencies = frequencyGrid(top / 1e4, top).filter((_, i) => i % every === 0)
  const reduced = balancedReduction(whole, order)
  const systems: readonly (readonly [string, StateSpace | undefined])[] = [
    ['as it is', whole],
    ['sampled', withOutputs(model.sampled, [0])],
    [`${order} states`, reduced.kind === 'done' ? reduced.value.system : undefined],
  ]
  return {
    ...{ frequencies, states, order },
    curves: systems.flatMap(([name, system]) => (system === undefined ? [] : [{ name, ...curveOf(system, frequencies) }])),
    words: reduced.kind === 'refused' ? reduced.problems[0]!.what : leftOut(reduced.value, order),
  }
}

function leftOut(
  { bound, hankel }: { readonly bound: number | undefined; readonly hankel: readonly number[] },
  order: number,
): string {
  if (order === hankel.length) return 'Nothing is left out.'
  if (bound === undefined) return 'It integrates or runs off, so what is left out has no bound: compare the curves.'
  return `Off by at most ${bound.toPrecision(2)} of what is held for one of the push, at any frequency.`
}

/** Gain in dB, and phase followed from frequency to frequency. */
function curveOf(system: StateSpace, frequencies: readonly number[]): Pick<FormCurve, 'gain' | 'phase'> {
  const respond = responder(system)
  const { dt } = system
  let last = 0
  const all = frequencies.map((w, i) => {
    const value = respond(dt === null ? { re: 0, im: w } : { re: Math.cos(w * dt), im: Math.sin(w * dt) })?.[0]?.[0]
    if (value === undefined) return { gain: NaN, phase: NaN }
    const raw = Math.atan2(value.im, value.re)
    const near = i === 0 ? raw - (raw > 0.1 ? 2 * Math.PI : 0) : raw + 2 * Math.PI * Math.round((last - raw) / (2 * Math.PI))
    last = near
    return { gain: 20 * Math.log10(Math.hypot(value.re, value.im)), phase: (near * 180) / Math.PI }
  })
  return { gain: all.map(({ gain }) => gain), phase: all.map(({ phase }) => phase) }
}
