import { done, partsIn } from '../document'
import type { Document, Outcome, Part, TrialPart } from '../document'
import { findKind } from '../kinds'
import { layersOfMachine, machineNumbers, matrices, mechanismLayers, sensorsOf } from '../machine'
import type { AnyLayer, MechanismLayer } from '../machine'
import { inScene, sceneOf } from '../scene'
import { cues, hasLinearMotion, lastCueEnd, layersOn, startingRest, trialDuration } from '../simulation'
import type { CompileChoices, Cue, Lane } from '../simulation'

/** What of a trial is run: its document, and what of it moves as the prediction has it. */
export interface Staged {
  readonly document: Document
  readonly layers: ReadonlySet<AnyLayer>
  readonly asPredicted: NonNullable<CompileChoices['asPredicted']>
}

/** Something that a simulation has and its prediction has not, or has in another way. */
export interface Cause {
  /** Of a layer its name, of a cue `cues.gust`. */
  readonly name: string
  readonly label: string
  /** What of it the prediction leaves out, in a few words. */
  readonly detail: string
  /** The layer of the trial that it is. */
  readonly layer?: AnyLayer
  /** The cues that it is. */
  readonly cues?: readonly string[]
  /** How a trial is without it, as the prediction has it. */
  readonly without: Without
}

type Change = (staged: Staged) => Staged

/** Another trial or machine, of which a program is made; or other numbers in memory of the same program, where those will do. */
type Without =
  | { readonly staged: Change; readonly values?: never }
  | { readonly values: Readonly<Record<string, number>>; readonly staged?: never }

/** More causes than this are told by their lanes instead of each by itself, where they are cues. */
const mostCauses = 7

/**
 * Why the simulation of a trial may differ from its prediction: everything that is not in the linear machine with its loops
 * and what they read. What both have, such as rates and delays, is no cause.
 */
export function causesOf(document: Document, trial: string): Outcome<readonly Cause[]> {
  const part = document.trials[trial]!
  const machine = document.machines[part.machine]!
  const rest = startingRest(document, part.machine)
  if (rest.kind === 'refused') return rest
  const on = layersOn(part as never)
  const asked = new Set(layersOfMachine(inScene(machine, sceneOf(document, trial))).map(({ name }) => name))
  if (Object.keys(sensorsOf(machine)).length > 0) asked.add(sensorErrors)
  const layers = mechanismLayers
    .filter(({ name }) => asked.has(name))
    .flatMap((layer) => {
      if (layer.name !== sensorErrors) return layerCause(layer, on.has(layer.name))
      return on.has(layer.name) ? [errors(layer, document, part.machine)] : []
    })
  const others = [
    ...(machine.kind !== matrices.name && hasLinearMotion(machine, rest.value) ? [nonlinearity] : []),
    ...lawLimits(document, part.machine),
    ...layers,
    ...(on.has('sampling') ? [] : [continuousLaws]),
    ...overrides(part, trial),
    ...starts(part, trial),
  ]
  const unknown = unknownCues(part)
  const each = unknown.map(([name, kind]) => cueCause(trial, `cues.${name}`, kind.label, [name]))
  const isFew = others.length + each.length <= mostCauses
  return done([...others, ...(isFew ? each : byLane(trial, unknown))])
}

const nonlinearity: Cause = {
  ...{ name: 'nonlinearity', label: 'Nonlinearity', detail: 'of its motion away from rest' },
  without: { staged: (now) => ({ ...now, asPredicted: { ...now.asPredicted, machine: true } }) },
}

/** Laws act without pause and at once in the trial, and in samples in the prediction. */
const continuousLaws: Cause = {
  ...{ name: 'sampling', label: 'No sampling', detail: 'the prediction samples and delays', layer: 'sampling' },
  without: { staged: (now) => ({ ...now, layers: new Set([...now.layers, 'sampling']) }) },
}

/** Readings of sensors: late they are in both, wrong in the trial alone. */
const sensorErrors = 'sensorErrors'

function layerCause({ name, label, inDesign }: MechanismLayer, isOn: boolean): Cause[] {
  const made = (detail: string, change: Change): Cause[] => [{ name, label, detail, layer: name, without: { staged: change } }]
  const kept = asPredicted(name)
  const off = (staged: Staged): Staged => ({ ...staged, layers: new Set([...staged.layers].filter((one) => one !== name)) })
  if (inDesign && isOn) return made('beyond its linear form', (staged) => kept(off(staged)))
  if (inDesign) return made('off here, in the prediction on', kept)
  return isOn ? made('not in the prediction', off) : []
}

/** A layer as the prediction has it. */
function asPredicted(name: AnyLayer): Change {
  return ({ asPredicted, ...staged }) => ({
    ...staged,
    asPredicted: { ...asPredicted, layers: new Set([...asPredicted.layers, name]) },
  })
}

/** What sensors tell wrongly, and what is drawn where an observer reads without one. How late they are the prediction knows. */
function errors({ name, label }: MechanismLayer, document: Document, machineName: string): Cause {
  const drawn = Object.entries(document.estimators).flatMap(([estimator, { machine, reads }]) =>
    machine === machineName
      ? Object.keys(partsIn(reads)).map((key) => [`estimators.${estimator}.reads.${key}.noise`, 0] as const)
      : [],
  )
  const values = Object.fromEntries([
    ...drawn,
    ...machineNumbers(document.machines[machineName]!).flatMap(({ path }) => {
      const slot = /^sensors\.[^.]+\.(\w+)$/.exec(path)?.[1] ?? ''
      const quiet = isWrong.test(slot) ? 0 : harmless[slot]
      return quiet === undefined ? [] : [[`true.machines.${machineName}.${path}`, quiet] as const]
    }),
  ])
  return { name, label, detail: 'noise, bias, steps', layer: name, without: { values } }
}

const isWrong = /^(noise|bias|drift|dropout|\w+(Noise|Bias|Drift))$/
/** Numbers of a sensor with which it limits and rounds nothing: steps that fine are below what a number of a metre can tell. */
const harmless: Readonly<Record<string, number>> = { least: -Infinity, most: Infinity, resolution: 2 ** -40 }

/** Limits of what loops command, and what stops them. */
function lawLimits(document: Document, machine: string): Cause[] {
  const limits = ['least', 'most', 'fastest'] as const
  const loops = Object.entries(document.loops).filter(([, loop]) => loop.machine === machine)
  const said = (loop: Part) => limits.filter((slot) => loop[slot] !== undefined)
  const limited = loops.filter(([, loop]) => said(loop).length > 0 || loop.stops !== undefined)
  if (limited.length === 0) return []
  const endless = limited.flatMap(([name, loop]) =>
    said(loop).map((slot) => [`loops.${name}.${slot}`, slot === 'least' ? -Infinity : Infinity] as const),
  )
  const freed = inDocument((now) => {
    const own = limited.map(([name]) => {
      const { least: _least, most: _most, fastest: _fastest, stops: _stops, ...loop } = now.loops[name]!
      return [name, loop]
    })
    return { ...now, loops: { ...now.loops, ...Object.fromEntries(own) } } as Document
  })
  const detail = limited.length === 1 ? 'of one loop' : `of ${limited.length} loops`
  const hasStops = limited.some(([, { stops }]) => stops !== undefined)
  const without = hasStops ? { staged: freed } : { values: Object.fromEntries(endless) }
  return [{ name: 'lawLimits', label: 'Limits of commands', detail, without }]
}

function overrides(part: Part, trial: string): Cause[] {
  const count = Object.keys(partsIn(part.overrides)).length
  if (count === 0) return []
  const detail = count === 1 ? 'one number of the machine' : `${count} numbers of the machine`
  return [{ name: 'overrides', label: 'Changes of the trial', detail, without: { staged: inTrial(trial, { overrides: {} }) } }]
}

function starts(part: Part, trial: string): Cause[] {
  if (Object.keys(partsIn(part.starts)).length === 0) return []
  return [
    {
      name: 'starts',
      label: 'Where it starts',
      detail: 'the prediction starts at rest',
      without: { staged: inTrial(trial, { starts: {} }) },
    },
  ]
}

/** Cues that the prediction knows nothing of: all that ask nothing of a loop or push. */
function unknownCues(part: Part): readonly (readonly [name: string, kind: Cue])[] {
  return Object.entries(partsIn(part.cues)).flatMap(([name, cue]) => {
    const kind = findKind(cues, cue)
    return kind === undefined || kind.lane === 'commands' || kind.lane === 'hands' ? [] : [[name, kind] as const]
  })
}

const laneLabels: Partial<Record<Lane, string>> = {
  machine: 'What changes of it',
  disturbances: 'Pushes and gusts',
  faults: 'Faults',
}

function byLane(trial: string, unknown: ReturnType<typeof unknownCues>): Cause[] {
  const lanes = [...new Set(unknown.map(([, kind]) => kind.lane))]
  return lanes.map((lane) =>
    cueCause(
      ...([trial, `cues.${lane}`, laneLabels[lane]!] as const),
      unknown.flatMap(([name, kind]) => (kind.lane === lane ? [name] : [])),
    ),
  )
}

function cueCause(trial: string, name: string, label: string, own: readonly string[]): Cause {
  return {
    ...{ name, label, cues: own, detail: own.length === 1 ? 'a cue of the trial' : `${own.length} cues of the trial` },
    without: {
      staged: inDocument((document) => {
        const part = document.trials[trial]!
        const kept = Object.fromEntries(Object.entries(part.cues).filter(([cue]) => !own.includes(cue)))
        // it ends when it did
        const after = trialDuration(part as never) - lastCueEnd({ ...part, cues: kept } as never)
        return changed(document, trial, { cues: kept, after })
      }),
    },
  }
}

function inTrial(trial: string, change: Partial<TrialPart>): Change {
  return inDocument((document) => changed(document, trial, change))
}

function changed(document: Document, trial: string, change: Partial<TrialPart>): Document {
  return { ...document, trials: { ...document.trials, [trial]: { ...document.trials[trial], ...change } } } as Document
}

/** A change of the document, made once of each: what is known of it is known for every coalition without this cause. */
function inDocument(change: (document: Document) => Document): Change {
  const made = new WeakMap<Document, Document>()
  return (staged) => {
    const { document } = staged
    if (!made.has(document)) made.set(document, change(document))
    return { ...staged, document: made.get(document)! }
  }
}
