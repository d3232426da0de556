import { done, refusedFor, replaceAt } from '../document'
import { machineNumbers } from '../machine'
import type { Document, Outcome, Part } from '../document'
import { withTrueNumbers } from '../control'
import { typedGains } from './tunings'
import { short } from '../linear'
import { analyse } from './analysis'
import { designLoop } from './design'
import type { LoopDesign } from './design'
import type { Prediction } from './predict'

/** The gains of a design as if they had been typed. */
export function gainsAsTyped({ gains, model: { law } }: Pick<LoopDesign, 'gains' | 'model'>): Part {
  const { kp, ki, kd } = gains
  const states = law.signals.filter((signal) => law.gains.includes(signal)).map((signal) => [gains[signal] ?? 0])
  return { kind: typedGains.name, kp, ki, kd, ...(states.length === 0 ? {} : { states }) }
}

/** The same document with every loop at the gains that it is designed with now: they stay as the machine changes. */
export function withGainsFixed(document: Document): Document {
  return Object.keys(document.loops).reduce((fixed, name) => {
    const design = designLoop(document, name)
    if (design.kind === 'refused') return fixed
    return replaceAt(fixed, `loops.${name}.tuning`, gainsAsTyped(design.value))
  }, document)
}

/** Up to so many numbers all their ends are combined; of more each goes to its ends alone. */
const mostCombined = 4

/** What varies, by number of the machine: a factor each. */
export type Variation = Readonly<Record<string, number>>

export function variations(paths: readonly string[], share: number): readonly Variation[] {
  const ends = [1 - share, 1 + share]
  if (paths.length > mostCombined) return paths.flatMap((path) => ends.map((factor) => ({ [path]: factor })))
  return paths.reduce<readonly Variation[]>(
    (all, path) => all.flatMap((one) => ends.map((factor) => ({ ...one, [path]: factor }))),
    [{}],
  )
}

/** The least and the most of several curves, point by point. */
export interface Envelope {
  readonly xs: readonly number[]
  readonly least: readonly number[]
  readonly most: readonly number[]
}

export interface Spread {
  readonly held: Envelope
  readonly push: Envelope
  /** Factor, and rad, over rad/s. */
  readonly magnitude: Envelope
  readonly phase: Envelope
  readonly count: number
  /** The variation that leaves least phase in hand, in words. */
  readonly worst: { readonly words: string; readonly phaseMargin: number } | undefined
  /** Variations whose loop is unstable, or of which nothing can be said, in words. */
  readonly unstable: readonly string[]
  readonly without: readonly string[]
}

/** Points of an envelope over time. */
const drawn = 300

/**
 * How the answer and the loop gain of a loop spread while numbers of its machine lie within a share of their values, all
 * gains as they are, and allocation as it knows the machine. `answer` predicts what is charted for a design. The gains of the
 * design stay: of every loop. `truth` makes the machine that a variation means; by itself, of its own numbers.
 */
export function spreadOver(
  document: Document,
  loop: string,
  paths: readonly string[],
  share: number,
  answer: (design: LoopDesign, document: Document) => Prediction,
  truth: (variation: Variation) => Outcome<Part> = (variation) => done(withTrueNumbers(ownMachine(document, loop), variation)),
): Outcome<Spread> {
  const nominal = designLoop(document, loop)
  if (nominal.kind === 'refused') return nominal
  if (nominal.value.model.law.notLinear !== undefined)
    return refusedFor(`loops.${loop}.law`, nominal.value.model.law.notLinear, 'Give it a law with gains.')
  const fixed = withGainsFixed(document)
  const machine = document.loops[loop]!.machine
  const called = new Map(machineNumbers(document.machines[machine]!).map((place) => [place.path, place.words]))
  const all = [{}, ...variations(paths, share)]
  const answers: Prediction[] = []
  const curves: ReturnType<typeof analyse>['curve'][] = []
  const unstable: string[] = []
  const without: string[] = []
  let worst: Spread['worst']
  for (const variation of all) {
    const words = inWords(variation, called)
    const made = truth(variation)
    if (made.kind === 'refused') {
      without.push(words)
      continue
    }
    const changed = replaceAt(fixed, `machines.${machine}`, made.value)
    const varied = designLoop(changed, loop)
    if (varied.kind === 'refused') {
      without.push(words)
      continue
    }
    // what is carried beforehand stays what it was designed to be
    const design = { ...varied.value, forward: nominal.value.forward }
    const analysis = analyse(design.model, design.gains)
    if (!analysis.stable) unstable.push(words)
    const { phaseMargin } = analysis
    if (phaseMargin !== undefined && (worst === undefined || phaseMargin < worst.phaseMargin)) worst = { words, phaseMargin }
    answers.push(answer(design, changed))
    curves.push(analysis.curve)
  }
  const [first, curve] = [answers[0]!, curves[0]!]
  const every = Math.max(1, Math.ceil(first.t.length / drawn))
  const over = (column: 'held' | 'push') =>
    envelope(
      Array.from(first.t).filter((_, i) => i % every === 0),
      answers.map((one) => Array.from(one[column]).filter((_, i) => i % every === 0)),
    )
  const along = (column: 'magnitude' | 'phase') =>
    envelope(
      curve.map(({ w }) => w),
      curves.map((one) => one.map((point) => point[column])),
    )
  return done({
    ...{ held: over('held'), push: over('push'), magnitude: along('magnitude'), phase: along('phase') },
    ...{ count: all.length - 1, worst, unstable, without },
  })
}

function ownMachine(document: Document, loop: string): Part {
  return document.machines[document.loops[loop]!.machine]!
}

function inWords(variation: Variation, called: ReadonlyMap<string, string>): string {
  const words = Object.entries(variation).map(
    ([path, factor]) => `${called.get(path) ?? path.replace(/^parameters\./, '')} × ${short(factor)}`,
  )
  return words.length === 0 ? 'as it is' : words.join(', ')
}

function envelope(xs: readonly number[], curves: readonly (readonly number[])[]): Envelope {
  return {
    xs,
    least: xs.map((_, i) => Math.min(...curves.map((ys) => ys[i] ?? Infinity))),
    most: xs.map((_, i) => Math.max(...curves.map((ys) => ys[i] ?? -Infinity))),
  }
}
