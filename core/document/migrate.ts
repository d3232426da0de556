import { withoutLifters } from './lifters'
import { done, refusedFor } from './problem'
import type { Outcome } from './problem'

/** The version this program writes. */
export const currentVersion = 5

export interface Migration {
  /** The version it starts from; it leads to the next. */
  readonly from: number
  readonly name: string
  readonly apply: (document: Record<string, unknown>) => Record<string, unknown>
}

/** Landed migrations are never edited; each has a test with an old document. */
export const migrations: readonly Migration[] = [
  { from: 1, name: 'several feedforwards a loop', apply: withFeedforwards },
  { from: 2, name: 'viscous friction apart from dry', apply: withViscousLayer },
  { from: 3, name: 'estimators as a layer of every machine', apply: withEstimatorLayer },
  { from: 4, name: 'lifters as bodies on joints', apply: (document) => withOneRealism(withoutLifters(document)) },
]

/** Brings an older document to the present version. A newer one is refused: what it means is unknown here. */
export function migrate(
  document: Record<string, unknown>,
  steps: readonly Migration[] = migrations,
  target: number = currentVersion,
): Outcome<Record<string, unknown>> {
  const version = document.version
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1) {
    return refusedFor(
      'version',
      `The version is ${JSON.stringify(version)}; it must be a whole number from 1.`,
      `Write "version": ${target}.`,
    )
  }
  if (version > target) {
    const what = `The document has version ${version}; this program knows versions up to ${target}.`
    return refusedFor('version', what, 'Open it with a newer Calm Hand. The file is left as it is.')
  }
  let current = document
  for (let at = version; at < target; at++) {
    const step = steps.find(({ from }) => from === at)
    if (step === undefined)
      return refusedFor('version', `No step leads from version ${at} to ${at + 1}.`, 'Report this as a fault.')
    current = { ...step.apply(current), version: at + 1 }
  }
  return done(current)
}

type Fields = Readonly<Record<string, unknown>>

/** One `feedforward` of a loop, or none of them, became named `feedforwards`; so in pinned designs. */
function withFeedforwards(document: Record<string, unknown>): Record<string, unknown> {
  const changed = (loops: unknown) =>
    mapped(loops, ({ feedforward, ...loop }) => ({ ...loop, feedforwards: several(feedforward) }))
  const pinned = mapped(document.tray, (pin) => ({ ...pin, loops: changed(pin.loops) }))
  return { ...document, loops: changed(document.loops), tray: pinned }
}

function several(feedforward: unknown): Fields {
  const old = (feedforward ?? {}) as Fields
  return old.kind === 'weightFeedforward' ? { weight: { ...old, kind: 'holding' } } : {}
}

/** The layer of friction became two; a trial that had it has both. */
function withViscousLayer(document: Record<string, unknown>): Record<string, unknown> {
  const changed = ({ realism, ...trial }: Fields): Fields => {
    const { friction, ...others } = (realism ?? {}) as Fields
    return { ...trial, realism: friction === undefined ? realism : { ...others, viscous: friction, friction } }
  }
  return { ...document, trials: mapped(document.trials, changed) }
}

/** Layers of trials have one kind since lifters are none of their own. */
function withOneRealism(document: Fields): Record<string, unknown> {
  const changed = ({ realism, ...trial }: Fields): Fields => {
    const layers = (realism ?? {}) as Fields
    return { ...trial, realism: layers.kind === 'machineRealism' ? { ...layers, kind: 'realism' } : realism }
  }
  return { ...document, trials: mapped(document.trials, changed) }
}

/** Estimators were always on but for lifters, whose trials could switch them. */
function withEstimatorLayer(document: Record<string, unknown>): Record<string, unknown> {
  const changed = ({ realism, ...trial }: Fields): Fields => {
    const layers = (realism ?? {}) as Fields
    return { ...trial, realism: layers.kind === 'machineRealism' ? { estimator: true, ...layers } : realism }
  }
  return { ...document, trials: mapped(document.trials, changed) }
}

/** A group of named parts with each changed; anything else stays for the schema to explain. */
function mapped(group: unknown, change: (part: Fields) => Fields): unknown {
  if (typeof group !== 'object' || group === null || Array.isArray(group)) return group
  const isPart = (part: unknown): part is Fields => typeof part === 'object' && part !== null
  return Object.fromEntries(Object.entries(group).map(([name, part]) => [name, isPart(part) ? change(part) : part]))
}
