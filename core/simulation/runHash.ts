import { contentHash } from '../document'
import type { Document } from '../document'
import { valuesOf } from '../kinds'
import type { ValuesOf } from '../kinds'
import type { AnyLayer } from '../machine'
import { engineVersion } from './engineVersion'
import { trial } from './trial'

export interface CompileChoices {
  /** Layers instead of those the trial says. */
  readonly layers?: ReadonlySet<AnyLayer>
  readonly seed?: number
}

export function layersOn(settings: Pick<ValuesOf<typeof trial>, 'realism'>): ReadonlySet<AnyLayer> {
  return new Set(Object.keys(settings.realism).filter((layer) => settings.realism[layer] === true) as AnyLayer[])
}

/** Identifies what a run gives: machine, loops, estimators, trial, layers, seed and engine. Titles, labels, notes, requirements and what is watched do not count. */
export function runHash(document: Document, trialName: string, choices: CompileChoices = {}): string {
  const { title: _title, watch: _watch, ...content } = valuesOf(trial, document.trials[trialName]!)
  const layers = choices.layers ?? layersOn(content)
  return contentHash(
    withoutLabels({
      engineVersion,
      machine: document.machines[content.machine],
      estimators: document.estimators,
      loops: Object.fromEntries(Object.entries(document.loops).map(([name, { keeps: _keeps, ...loop }]) => [name, loop])),
      trial: content,
      layers: [...layers].sort(),
      seed: choices.seed ?? content.seed,
    }),
  )
}

/** What parts are called changes nothing that runs. */
function withoutLabels(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutLabels)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).flatMap(([key, one]) => (key === 'label' ? [] : [[key, withoutLabels(one)]])))
}
