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
  /** The same without it: as the prediction has it. */
  readonly without: (staged: Staged) => Staged
  /** The same by other numbers in memory of the same program, where that will do: no other is compiled. */
  readonly values?: Readonly<Record<string, number>>
}

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
    .flatMap((layer) =>
      layer.name === sensorErrors ? errors(layer, part.machine, machine, on) : layerCause(layer, on.has(layer.name)),
    )
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
  without: (staged) => ({ ...staged, asPredicted: { ...staged.asPredicted, machine: true } }),
}

/** Laws act without pause and at once in the trial, and in samples in the prediction. */
const continuousLaws: Cause = {
  ...{ name: 'sampling', label: 'No sampling', detail: 'the prediction samples and delays', layer: 'sampling' },
  without: (staged) => ({ ...staged, layers: new Set([...staged.layers, 'sampling']) }),
}

/** Readings of sensors: late they are in both, wrong in the trial alone. */
const sensorErrors = 'sensorErrors'

function layerCause({ name, label, inDesign }: MechanismLayer, isOn: boolean): Cause[] {
  const made = (detail: string, without: Cause['without']): Cause[] => [{ name, label, detail, layer: name, without }]
  const kept = asPredicted(name)
  const off = (staged: Staged): Staged => ({ ...staged, layers: new Set([...staged.layers].filter((one) => one !== name)) })
  if (inDesign && isOn) return made('beyond its linear form', (staged) => kept(off(staged)))
  if (inDesign) return made('off here, in the prediction on', kept)
  return isOn ? made('not in the prediction', off) : []
}

/** A layer as the prediction has it. */
function asPredicted(name: AnyLayer): Cause['without'] {
  return ({ asPredicted, ...staged }) => ({
    ...staged,
    asPredicted: { ...asPredicted, layers: new Set([...asPredicted.layers, name]) },
  })
}

/** What sensors tell wrongly. How late they are the prediction knows. */
function errors({ name, label }: MechanismLayer, machineName: string, machine: Part, on: ReadonlySet<AnyLayer>): Cause[] {
  if (!on.has(name)) return []
  const sensors = Object.entries(sensorsOf(machine))
  // steps and ends of a reading are no numbers in memory
  const isPlain = sensors.every(
    ([, { resolution = 0, least, most }]) => resolution === 0 && least === undefined && most === undefined,
  )
  const told = machineNumbers(machine).filter(({ path }) => wrongs.test(path))
  const values = Object.fromEntries(told.map(({ path }) => [`true.machines.${machineName}.${path}`, 0]))
  const cause = { name, label, detail: 'noise, bias, steps', layer: name, without: asPredicted(name) }
  return [isPlain ? { ...cause, values } : cause]
}

const wrongs = /^sensors\.[^.]+\.(noise|bias|drift|dropout|\w+(Noise|Bias|Drift))$/

/** Limits of what loops command, and what stops them. */
function lawLimits(document: Document, machine: string): Cause[] {
  const limits = ['least', 'most', 'fastest', 'stops']
  const limited = Object.keys(document.loops).filter((name) => {
    const loop = document.loops[name] as unknown as Part
    return loop.machine === machine && limits.some((slot) => loop[slot] !== undefined)
  })
  if (limited.length === 0) return []
  const free = (loop: Part) => Object.fromEntries(Object.entries(loop).filter(([slot]) => !limits.includes(slot)))
  return [
    {
      ...{
        name: 'lawLimits',
        label: 'Limits of commands',
        detail: limited.length === 1 ? `of ${limited[0]}` : `of ${limited.length} loops`,
      },
      without: inDocument((document) => {
        const { loops } = document
        const freed = limited.map((name) => [name, free(loops[name] as unknown as Part)])
        return { ...document, loops: { ...loops, ...Object.fromEntries(freed) } }
      }),
    },
  ]
}

function overrides(part: Part, trial: string): Cause[] {
  const count = Object.keys(partsIn(part.overrides)).length
  if (count === 0) return []
  const detail = count === 1 ? 'one number of the machine' : `${count} numbers of the machine`
  return [{ name: 'overrides', label: 'Changes of the trial', detail, without: inTrial(trial, { overrides: {} }) }]
}

function starts(part: Part, trial: string): Cause[] {
  if (Object.keys(partsIn(part.starts)).length === 0) return []
  return [
    {
      name: 'starts',
      label: 'Where it starts',
      detail: 'the prediction starts at rest',
      without: inTrial(trial, { starts: {} }),
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
    without: inDocument((document) => {
      const part = document.trials[trial]!
      const kept = Object.fromEntries(Object.entries(part.cues).filter(([cue]) => !own.includes(cue)))
      // it ends when it did
      const after = trialDuration(part as never) - lastCueEnd({ ...part, cues: kept } as never)
      return changed(document, trial, { cues: kept, after })
    }),
  }
}

function inTrial(trial: string, change: Partial<TrialPart>): Cause['without'] {
  return inDocument((document) => changed(document, trial, change))
}

function changed(document: Document, trial: string, change: Partial<TrialPart>): Document {
  return { ...document, trials: { ...document.trials, [trial]: { ...document.trials[trial], ...change } } } as Document
}

/** A change of the document, made once of each: what is known of it is known for every coalition without this cause. */
function inDocument(change: (document: Document) => Document): Cause['without'] {
  const made = new WeakMap<Document, Document>()
  return (staged) => {
    const { document } = staged
    if (!made.has(document)) made.set(document, change(document))
    return { ...staged, document: made.get(document)! }
  }
}
