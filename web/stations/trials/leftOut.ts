import type { Document, Part } from '@calm-hand/core/document'
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
  const layers = shownLayers(document.machines[name]!)
  const missing = layers.filter((layer) => realism[layer.name] === true && !layer.inDesign)
  const kept = layers.filter((layer) => realism[layer.name] !== true && layer.inDesign)
  const estimated = Object.values(document.loops).some(({ machine, reads }) => machine === name && reads !== 'true')
  const changes = Object.keys(overrides).length
  const left = [
    ...missing.map(({ label }) => label.toLowerCase()),
    ...(estimated && !missing.some((layer) => layer.name === 'estimator') ? ['what estimators and sensors add'] : []),
    ...(changes === 0 ? [] : [changes === 1 ? "the trial's change of a number" : `the trial's ${changes} changes of numbers`]),
  ]
  return [
    ...(left.length === 0 ? [] : [`The prediction leaves out ${listed(left)}.`]),
    ...(kept.length === 0 ? [] : [`It counts ${listed(kept.map(({ label }) => label.toLowerCase()))}, off here.`]),
  ]
}

function listed(words: readonly string[]): string {
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`
}
