import type { Document } from '../document'
import { innerLoops, linearMachine } from '../control'
import { designLayers } from '../machine'
import { designLoop, predict, responseFigures } from '../tuning'
import type { Prediction, ResponseFigures } from '../tuning'
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
 * The linear prediction of a loop over a whole trial; held quantity and push are absolute. `undefined` where its design is
 * refused, or where the trial switches a loop that it commands: what it sees is then more than one machine.
 */
export function predictTrial(document: Document, trial: string, loop: string): Prediction | undefined {
  if (innerLoops(document, loop).some((inner) => switchedOver(document, trial, inner) !== undefined)) return undefined
  const design = designLoop(document, loop)
  if (design.kind === 'refused') return undefined
  const { model, gains, values, nominalPush, nominalHeld, forward } = design.value
  const settings = document.trials[trial] as unknown as TrialSettings
  const prediction = predict(model, {
    gains,
    reference: askedMotion(document, trial, loop),
    imbalance: forward.constant - nominalPush,
    forward: forward.linear,
    closed: values.closed,
    switched: switchedOver(document, trial, loop),
    until: trialDuration(settings as never),
  })
  return {
    ...prediction,
    held: prediction.held.map((value) => value + nominalHeld),
    push: prediction.push.map((value) => value + nominalPush),
  }
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

/** `undefined` where the record ends before the last cue does. */
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
  return responseFigures(t, held, push, from, reference(from - 1e-9), reference(end))
}
