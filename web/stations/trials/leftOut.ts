import { linearEstimators } from '@calm-hand/core/control'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { listed } from '@calm-hand/core/linear'
import { cues } from '@calm-hand/core/simulation'
import { shownLayers } from './shownLayers'

/** How the prediction of a trial differs from its simulation, in words for a sentence each; nothing where it does not. */
export function leftOut(document: Document, trial: string): readonly string[] {
  const {
    machine: name,
    realism,
    overrides,
  } = document.trials[trial] as unknown as {
    readonly machine: string
    readonly realism: Readonly<Record<string, unknown>>
    readonly overrides: Readonly<Record<string, Part>>
  }
  const layers = shownLayers(document, name, trial).filter((layer) => layer.name !== 'sensorErrors')
  const changes = Object.keys(overrides).length
  const left = [
    ...layers
      // estimators are told for themselves: most have a linear form
      .filter((layer) => realism[layer.name] === true && !layer.inDesign && layer.name !== 'estimator')
      .map(({ label }) => label.toLowerCase()),
    ...readings(document, name, realism),
    ...happenings(document, trial),
    ...(changes === 0 ? [] : [changes === 1 ? "the trial's change of a number" : `the trial's ${changes} changes of numbers`]),
  ]
  const kept = layers.filter((layer) => realism[layer.name] !== true && layer.inDesign).map(({ label }) => label.toLowerCase())
  return [
    ...(left.length === 0 ? [] : [`The prediction leaves out ${listed(left)}.`]),
    ...(kept.length === 0 ? [] : [`It counts ${listed(kept)}, off here.`]),
  ]
}

/** Cues that the linear machine does not know, by their lanes. */
function happenings(document: Document, trial: string): readonly string[] {
  const used = new Set(Object.values(partsIn(document.trials[trial]!.cues)).flatMap((cue) => findKind(cues, cue)?.lane ?? []))
  return [
    ...(used.has('machine') ? ['what changes of the machine'] : []),
    ...(used.has('disturbances') ? ['what pushes it from outside'] : []),
    ...(used.has('faults') ? ['faults'] : []),
  ]
}

/** What is missing of what loops read: sensors as such, and estimators without a linear form. */
function readings(document: Document, machine: string, realism: Readonly<Record<string, unknown>>): readonly string[] {
  const reads = new Set(Object.values(document.loops).flatMap((loop) => (loop.machine === machine ? [loop.reads] : [])))
  const own = Object.values(document.estimators).filter((part) => part.machine === machine)
  const isWhole = linearEstimators(document, machine).length === own.length
  const errs = reads.has('measured') || realism.sensorErrors === true
  return [
    ...(errs && (reads.has('measured') || reads.has('estimated')) ? ['noise and bias of sensors'] : []),
    ...(reads.has('estimated') && realism.estimator !== false && !isWhole ? ['an estimator without a linear form'] : []),
  ]
}
