import { contentHash } from '../document'
import type { Document, Part, TrialPart } from '../document'
import { valuesOf } from '../kinds'
import type { ValuesOf } from '../kinds'
import { trialLayers } from '../machine'
import type { AnyLayer, FindMesh } from '../machine'
import { engineVersion } from './engineVersion'
import type { AsPredicted } from './partlyLinear'
import { sceneOf, thatActs } from '../scene'
import { looksAtClearance } from './signals'
import { trial } from './trial'

export interface CompileChoices {
  /** Layers instead of those the trial says. */
  readonly layers?: ReadonlySet<AnyLayer>
  readonly seed?: number
  /** What of the machine moves as the prediction has it. */
  readonly asPredicted?: AsPredicted
  /** The columns of its record: all unless given. What nobody reads is not worked out. */
  readonly only?: ReadonlySet<string>
  /** Gives the meshes that stand in the scene. */
  readonly findMesh?: FindMesh
}

export function layersOn(settings: Pick<ValuesOf<typeof trial>, 'realism'>): ReadonlySet<AnyLayer> {
  return new Set(Object.keys(settings.realism).filter((layer) => settings.realism[layer] === true) as AnyLayer[])
}

/** The same by name, in the order in which people see them. */
export function layerNamesOn(trial: TrialPart): AnyLayer[] {
  const on = layersOn(trial as never)
  return trialLayers.map(({ name }) => name).filter((layer) => on.has(layer))
}

/** Identifies what a run gives: machine, loops, estimators, trial, layers, seed and engine. Titles, labels, notes, requirements, what is watched and checks that let it go on do not count. */
export function runHash(document: Document, trialName: string, choices: CompileChoices = {}): string {
  const {
    title: _title,
    watch: _watch,
    trail: _trail,
    print: _print,
    span: _span,
    gap: _gap,
    records: _records,
    against: _against,
    checks,
    ...settings
  } = valuesOf(trial, document.trials[trialName]!)
  const content = { ...settings, ...thatEnd(checks) }
  const layers = choices.layers ?? layersOn(content)
  const { asPredicted } = choices
  return contentHash(
    withoutLabels({
      engineVersion,
      machine: document.machines[content.machine],
      estimators: document.estimators,
      loops: Object.fromEntries(Object.entries(document.loops).map(([name, { keeps: _keeps, ...loop }]) => [name, loop])),
      trial: content,
      ...around(document, trialName),
      layers: [...layers].sort(),
      seed: choices.seed ?? content.seed,
      ...(asPredicted === undefined ? {} : { asPredicted: [asPredicted.machine, ...[...asPredicted.layers].sort()] }),
    }),
  )
}

/** What is around the machine, where the trial names it. */
function around(document: Document, trialName: string): { readonly scene?: Part; readonly clearance?: true } {
  const found = sceneOf(document, trialName)
  if (found === undefined) return {}
  return { scene: thatActs(found), ...(looksAtClearance(document, trialName) ? { clearance: true } : {}) }
}

/** Checks that may end the run, where there are any. */
function thatEnd(checks: Readonly<Record<string, Part>>): { readonly checks?: Readonly<Record<string, Part>> } {
  const ending = Object.entries(checks).filter(([, check]) => check.ends === 'ends')
  return ending.length === 0 ? {} : { checks: Object.fromEntries(ending) }
}

/** What parts are called changes nothing that runs. */
function withoutLabels(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutLabels)
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).flatMap(([key, one]) => (key === 'label' ? [] : [[key, withoutLabels(one)]])))
}
