import { wrapped } from '../algebra'
import { rememberedOf } from '../document'
import type { Document } from '../document'
import { commandedLoop, cuedPush, linearEyes, linearMachine, outerFirst } from '../control'
import type { LinearEstimator } from '../control'
import { designLayers, findHeld } from '../machine'
import { designLoop, followingFigures, predict, predictTogether, responseFigures } from '../tuning'
import type { FollowingFigures, LoopDesign, PlayedLoop, Prediction, ResponseFigures, PredictedTogether } from '../tuning'
import { ticksOf, trialDuration } from './compile'
import { layersOn } from './runHash'
import { findColumn } from './record'
import type { Record } from './record'
import { asItCame } from './asItCame'
import { askedMotion, asTyped, cuedReference, cuedPushes, feedbackOf, typedCues } from './reference'

/** How a loop answers the last of its cues, and how it follows all of them. */
export interface TrialFigures extends ResponseFigures, FollowingFigures {}

export interface LoopFigures {
  readonly simulated?: TrialFigures
  readonly predicted?: TrialFigures
}

interface TrialSettings {
  readonly cues: { readonly [name: string]: { readonly kind: string; readonly loop?: string; readonly [slot: string]: unknown } }
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
  const linear = linearMachine(part, designLayers.all)
  return linear.kind === 'refused' ? 0 : (linear.value.operatingPoint.held[holds] ?? 0)
}

/** What the cues of a trial ask of a loop, about where it rests. */
function cuesOf(document: Document, trial: string, loop: string): (t: number) => number {
  const asked = cuedReference(document, typedCues(document, trial), loop, asTyped)
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
const walks = new WeakMap<Document, Map<string, PredictedTogether | undefined>>()

function predictedWith(document: Document, trial: string, loop: string, design: LoopDesign): Prediction | undefined {
  const { machine } = design.values
  const others = playedLoops(document, trial, machine)
  const until = trialDuration(document.trials[trial] as never)
  // the layers of a trial may leave out what stands between machine and law
  const readsTruth = design.model.shown.truth === 0
  const isAlone = others.length === 1 && readsTruth && cuedPushes(document, typedCues(document, trial), asTyped).size === 0
  if (isAlone && commandedLoop(design.values.pushes) === undefined) {
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
  return walkOf(document, trial, machine, [])?.loops.get(loop)
}

function walkOf(document: Document, trial: string, machine: string, watched: readonly string[]): PredictedTogether | undefined {
  return rememberedOf(walks, document, JSON.stringify([trial, machine, watched]), () => {
    const part = document.machines[machine]!
    const linear = linearMachine(part, designLayers.all)
    if (linear.kind === 'refused') return undefined
    const loops = playedLoops(document, trial, machine)
    const beside = besideLoops(document, trial, loops, watched)
    const until = trialDuration(document.trials[trial] as never)
    const found = predictTogether(part, linear.value.system, loops, until, eyesOf(document, trial, machine), beside)
    return found.kind === 'done' ? found.value : undefined
  })
}

/** What a trial moves beside its loops; nothing where only loops move anything and nothing else is looked at. */
function besideLoops(document: Document, trial: string, loops: readonly PlayedLoop[], watched: readonly string[]) {
  const moved = [...cuedPushes(document, typedCues(document, trial), asTyped)].map(([push, by]) => ({
    push,
    by: (t: number) => by(t) as number,
  }))
  if (moved.length === 0 && watched.length === 0) return undefined
  const designs = Object.fromEntries(loops.map(({ name, design }) => [name, design]))
  const ticks = ticksOf(document, trial, designs, layersOn(document.trials[trial] as never))
  return ticks.kind === 'refused' ? undefined : { moved, watched, rate: ticks.value.base }
}

/**
 * The linear prediction of quantities of the machine over a trial, by name, absolute, s between them; those that have no
 * linear form are left out. `undefined` where the machine or a loop has no design.
 */
export function predictWatched(
  document: Document,
  trial: string,
  quantities: readonly string[],
): { readonly t: Float64Array; readonly values: { readonly [quantity: string]: Float64Array } } | undefined {
  const machine = (document.trials[trial] as unknown as { readonly machine: string }).machine
  const part = document.machines[machine]!
  const linear = linearMachine(part, designLayers.all)
  const walk = linear.kind === 'refused' ? undefined : walkOf(document, trial, machine, quantities)
  if (linear.kind === 'refused' || walk === undefined) return undefined
  const { held, runs } = linear.value.operatingPoint
  const values = Object.entries(walk.watched).map(([name, one]) => [
    name,
    one.map((value, k) => value + (held[name] ?? 0) + (runs[name] ?? 0) * walk.t[k]!),
  ])
  return { t: walk.t, values: Object.fromEntries(values) as { [quantity: string]: Float64Array } }
}

/** The sensors and estimators that loops read in a trial, as far as its layers are on. */
function eyesOf(document: Document, trial: string, machine: string): readonly LinearEstimator[] {
  const { realism } = document.trials[trial] as unknown as { readonly realism: { readonly [layer: string]: unknown } }
  const eyes = linearEyes(document, machine, realism.sensorErrors === true)
  return realism.estimator === true ? eyes : eyes.filter(({ ofSensor }) => ofSensor === true)
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
  const isOn = feedbackOf(document, typedCues(document, trial), loop)
  return isOn === undefined ? undefined : (t) => isOn(t) === true
}

/** Figures of each loop that a trial's cues move, simulated and predicted, over the last cue. */
export function trialFigures(given: Document, trial: string, record: Record): { [loop: string]: LoopFigures } {
  const document = asItCame(given, trial, record.cues)
  const settings = document.trials[trial] as unknown as TrialSettings
  const cued = Object.values(settings.cues).flatMap((cue) => cue.loop ?? [])
  const moved = [...new Set(cued)].filter((target) => cuedPush(target) === undefined)
  return Object.fromEntries(moved.map((loop) => [loop, loopFigures(document, trial, loop, record)]))
}

function loopFigures(document: Document, trial: string, loop: string, record: Record): LoopFigures {
  const part = document.loops[loop]!
  const held = findColumn(record, `${part.machine}.${part.holds}`)
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
): TrialFigures | undefined {
  const settings = document.trials[trial] as unknown as TrialSettings
  const mine = Object.values(settings.cues).filter((cue) => cue.loop === loop && cue.waits === undefined)
  const from = Math.max(0, ...mine.map((cue) => cue.at as number))
  const end = t[t.length - 1] ?? 0
  if (end <= from) return undefined
  const reference = referenceOf(document, trial, loop)
  const [asked, wanted] = [reference(from - 1e-9), reference(end)]
  const { machine, holds } = document.loops[loop] as unknown as { readonly machine: string; readonly holds: string }
  if (findHeld(document.machines[machine]!, holds)?.angle !== 'goesRound')
    return { ...responseFigures(t, held, push, from, asked, wanted), ...followingFigures(t, held, reference) }
  const turned = withTurns(held)
  const at = turned[t.findIndex((time) => time >= from)]!
  const apart = sameWay(reference(t[0]!), turned[0]!) - reference(t[0]!)
  return {
    ...responseFigures(t, turned, push, from, sameWay(asked, at), sameWay(wanted, turned.at(-1)!)),
    ...followingFigures(t, turned, (time) => reference(time) + apart),
  }
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
