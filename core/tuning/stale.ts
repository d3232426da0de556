import { innerLoops } from '../control'
import { typedGains, usualIntegralCorner } from './tunings'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { valuesOf } from '../kinds'
import { analyse } from './analysis'
import type { LoopAnalysis } from './analysis'
import { designLoop, modelOfLoop } from './design'
import type { LoopDesign } from './design'
import { gainsAsTyped } from './spread'
import { tune } from './tune'

/** A place on the calm map. */
export interface MapPlace {
  /** rad/s */
  readonly crossover: number
  /** rad */
  readonly phaseMargin: number
}

/** Gains that were made for one place and now give another: the machine or a loop inside has changed, not they. */
export interface StaleLoop {
  readonly name: string
  readonly meant: MapPlace
  /** Nothing where it no longer crosses over. */
  readonly now: MapPlace | undefined
}

/** By so much a place must have moved: a share of the crossover, and rad. */
const movedCrossover = 0.01
const movedMargin = (0.5 * Math.PI) / 180

/** The gains of a design as typed ones that remember what they were made for. */
export function takenOver(
  design: Pick<LoopDesign, 'gains' | 'model'>,
  { crossover, phaseMargin }: Pick<LoopAnalysis, 'crossover' | 'phaseMargin'>,
): Part {
  const typed = gainsAsTyped(design)
  if (crossover === undefined || phaseMargin === undefined) return typed
  return { ...typed, crossover, phaseMargin, made: rowsOf(typed) }
}

function rowsOf(tuning: Part): readonly (readonly number[])[] {
  const { kp, ki, kd, states } = valuesOf(typedGains, tuning)
  return [[kp], [ki], [kd], ...states]
}

export function staleLoops(document: Document): readonly StaleLoop[] {
  return Object.entries(document.loops).flatMap(([name, part]): StaleLoop[] => {
    const meant = meantBy(part)
    if (meant === undefined) return []
    const design = designLoop(document, name)
    if (design.kind === 'refused') return []
    const { crossover, phaseMargin } = analyse(design.value.model, design.value.gains)
    if (crossover === undefined || phaseMargin === undefined) return [{ name, meant, now: undefined }]
    const isThere =
      Math.abs(crossover - meant.crossover) <= movedCrossover * meant.crossover &&
      Math.abs(phaseMargin - meant.phaseMargin) <= movedMargin
    return isThere ? [] : [{ name, meant, now: { crossover, phaseMargin } }]
  })
}

function meantBy({ tuning }: Part): MapPlace | undefined {
  if ((tuning as Part).kind !== typedGains.name) return undefined
  const { crossover, phaseMargin, made } = valuesOf(typedGains, tuning as Part)
  // typed anew since then: they were made for nothing but themselves
  if (JSON.stringify(made) !== JSON.stringify(rowsOf(tuning as Part))) return undefined
  return crossover === undefined || phaseMargin === undefined ? undefined : { crossover, phaseMargin }
}

export interface Retuned {
  readonly document: Document
  /** Loops that now are where they were meant to be, and those that cannot be, with the reason. */
  readonly done: readonly string[]
  readonly beyond: readonly { readonly name: string; readonly what: string }[]
}

/** Typed loops brought back to what they were made for, inner loops first, each seeing those inside it as they are then. */
export function retuned(document: Document, names: readonly string[]): Retuned {
  const order = [...names].sort((a, b) => innerLoops(document, a).length - innerLoops(document, b).length)
  const done: string[] = []
  const beyond: { name: string; what: string }[] = []
  let next = document
  for (const name of order) {
    const meant = meantBy(next.loops[name]!)
    const found = modelOfLoop(next, name)
    if (meant === undefined || found.kind === 'refused') continue
    const { model } = found.value
    const { kp, ki } = valuesOf(typedGains, next.loops[name]!.tuning)
    const corner = ki !== 0 && kp !== 0 ? Math.min(1, Math.abs(ki / (kp * meant.crossover))) : usualIntegralCorner
    const tuned = tune(model, { ...meant, integralCorner: corner })
    if (tuned.kind === 'outOfReach') {
      beyond.push({ name, what: tuned.what })
      continue
    }
    done.push(name)
    next = replaceAt(next, `loops.${name}.tuning`, takenOver({ gains: tuned.gains, model }, meant))
  }
  return { document: next, done, beyond }
}
