import { wrapped } from '../algebra'
import { rememberedOf } from '../document'
import type { Document } from '../document'
import { commandedLoop, linearEstimators, linearMachine, outerFirst } from '../control'
import type { LinearEstimator } from '../control'
import { designLayers, findHeld, floatingBody } from '../machine'
import { designLoop, eyesRead, predict, predictTogether, responseFigures } from '../tuning'
import type { LoopDesign, PlayedLoop, Prediction, ResponseFigures } from '../tuning'
import { trialDuration } from './compile'
import { findColumn } from './record'
import type { Record } from './record'
import { askedMotion, askedOf, feedbackOf } from './reference'

export interface LoopFigures {
  readonly simulated?: ResponseFigures
  readonly predicted?: ResponseFigures
}

interface TrialSettings {
  readonly cues: { readonly [name: string]: { readonly kind: string; readonly loop: string; readonly [slot: string]: unknown } }
  readonly after: number
}

/** Reference of a loop in a trial: where the machine rests, and what its cues add. */
export function referenceOf(document: Document, trial: string, loop: string): (t: number) => number {
  const asked = cuesOf(document, trial, loop)
  const rest = restOf(document, loop)
  return (t) => rest + asked(t)
}

/** The held quantity at the operating point; 0 where there is none. */
function restOf(document: Document, loop: string): number {
  const { machine, holds } = document.loops[loop] as unknown as { machine: string; holds: string }
  const part = document.machines[machine]!
  const linear = linearMachine(part, designLayers(part).all)
  return linear.kind === 'refused' ? 0 : (linear.value.operatingPoint.held[holds] ?? 0)
}

/** What the cues of a trial ask of a loop, about where it rests. */
function cuesOf(document: Document, trial: string, loop: string): (t: number) => number {
  const asked = askedOf(document, trial, loop, (_path, value) => value)
  return (t) => asked(t) as number
}

/**
 * The linear prediction of a loop over a whole trial, with all loops of its machine that the trial closes and moves; held
 * quantity and push are absolute. `undefined` where its design is refused.
 */
export function predictTrial(document: Document, trial: string, loop: string): Prediction | undefined {
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return undefined
  const prediction = predictedWith(document, trial, loop, design.value)
  if (prediction === undefined) return undefined
  const { nominalHeld, nominalPush } = design.value
  return {
    ...prediction,
    held: prediction.held.map((value) => value + nominalHeld),
    push: prediction.push.map((value) => value + nominalPush),
  }
}

/** Predictions of all loops of a machine in a trial come out of one walk. */
const walks = new WeakMap<Document, Map<string, ReadonlyMap<string, Prediction> | undefined>>()

function predictedWith(document: Document, trial: string, loop: string, design: LoopDesign): Prediction | undefined {
  const { machine } = design.values
  const others = playedLoops(document, trial, machine)
  const until = trialDuration(document.trials[trial] as never)
  const eyes = eyesOf(document, trial, machine)
  const readsTruth = eyesRead(document.machines[machine]!, [design], eyes).length === 0
  if (others.length === 1 && readsTruth && commandedLoop(design.values.pushes) === undefined) {
    const { model, gains, values, nominalPush, forward } = design
    return predict(model, {
      gains,
      ...asPlayed(document, trial, loop),
      imbalance: forward.constant - nominalPush,
      forward: forward.linear,
      closed: values.closed,
      until,
    })
  }
  const walk = rememberedOf(walks, document, `${trial} ${machine}`, () => {
    const part = document.machines[machine]!
    const linear = linearMachine(part, designLayers(part).all)
    if (linear.kind === 'refused') return undefined
    const found = predictTogether(part, linear.value.system, others, until, eyes)
    return found.kind === 'done' ? found.value : undefined
  })
  return walk?.get(loop)
}

/** The estimators that loops read in a trial; none where its layer is off. */
function eyesOf(document: Document, trial: string, machine: string): readonly LinearEstimator[] {
  const isLifter = document.machines[machine]!.kind === floatingBody.name
  const { realism } = document.trials[trial] as unknown as { readonly realism: { readonly [layer: string]: unknown } }
  return isLifter && realism.estimator !== true ? [] : linearEstimators(document, machine)
}

function asPlayed(document: Document, trial: string, name: string) {
  return { reference: askedMotion(document, trial, name), switched: switchedOver(document, trial, name) }
}

/** Every loop of a machine that has a design: those that are open carry beforehand all the same. */
function playedLoops(document: Document, trial: string, machine: string): readonly PlayedLoop[] {
  return outerFirst(document, machine).flatMap((name) => {
    const design = designLoop(document, name)
    return design.kind === 'refused' ? [] : [{ name, design: design.value, ...asPlayed(document, trial, name) }]
  })
}

/** Whether the feedback of a loop is on at a time, where the trial switches it. */
export function switchedOver(document: Document, trial: string, loop: string): ((t: number) => boolean) | undefined {
  const isOn = feedbackOf(document, trial, loop, (_path, value) => value)
  return isOn === undefined ? undefined : (t) => isOn(t) === true
}

/** Figures of each loop that a trial's cues move, simulated and predicted, over the last cue. */
export function trialFigures(document: Document, trial: string, record: Record): { [loop: string]: LoopFigures } {
  const settings = document.trials[trial] as unknown as TrialSettings
  const moved = [...new Set(Object.values(settings.cues).map((cue) => cue.loop))]
  return Object.fromEntries(moved.map((loop) => [loop, loopFigures(document, trial, loop, record)]))
}

function loopFigures(document: Document, trial: string, loop: string, record: Record): LoopFigures {
  const part = document.loops[loop]!
  const held = findColumn(record, `${part.machine as string}.${part.holds as string}`)
  const push = findColumn(record, `loops.${loop}.command`)
  const simulated =
    held === undefined || push === undefined ? undefined : figuresOf(document, trial, loop, record.time, held, push)
  const prediction = predictTrial(document, trial, loop)
  const predicted =
    prediction === undefined ? undefined : figuresOf(document, trial, loop, prediction.t, prediction.held, prediction.push)
  return { ...(simulated === undefined ? {} : { simulated }), ...(predicted === undefined ? {} : { predicted }) }
}

/** `undefined` where the record ends before the last cue does. Of an angle that goes round they follow its turns, the way it went. */
export function figuresOf(
  document: Document,
  trial: string,
  loop: string,
  t: Float64Array,
  held: Float64Array,
  push: Float64Array,
): ResponseFigures | undefined {
  const settings = document.trials[trial] as unknown as TrialSettings
  const mine = Object.values(settings.cues).filter((cue) => cue.loop === loop)
  const from = Math.max(0, ...mine.map((cue) => cue.at as number))
  const end = t[t.length - 1] ?? 0
  if (end <= from) return undefined
  const reference = referenceOf(document, trial, loop)
  const [asked, wanted] = [reference(from - 1e-9), reference(end)]
  const { machine, holds } = document.loops[loop] as unknown as { readonly machine: string; readonly holds: string }
  if (findHeld(document.machines[machine]!, holds)?.angle !== 'goesRound')
    return responseFigures(t, held, push, from, asked, wanted)
  const turned = withTurns(held)
  const at = turned[t.findIndex((time) => time >= from)]!
  return responseFigures(t, turned, push, from, sameWay(asked, at), sameWay(wanted, turned.at(-1)!))
}

const wholeTurn = 2 * Math.PI

/** An angle that jumps by whole turns, without the jumps. */
function withTurns(angle: Float64Array): Float64Array {
  let turns = 0
  return angle.map((value, k) => {
    if (k > 0) turns -= Math.round((value - angle[k - 1]!) / wholeTurn)
    return value + turns * wholeTurn
  })
}

/** The angle among those that look the same as `angle` that is nearest to another. */
function sameWay(angle: number, to: number): number {
  return to - (wrapped(to - angle) as number)
}
