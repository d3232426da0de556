import { estimatorsOf } from '../control'
import { partsIn } from '../document'
import type { Document, Part } from '../document'
import { slotsRead } from '../expression'
import type { WasmModule } from '../expression'
import { findKind, valuesOf } from '../kinds'
import { numbersOf } from '../machine'
import { inScene, sceneOf } from '../scene'
import { designLoop } from '../tuning'
import type { LoopDesign } from '../tuning'
import { ticksOf, trialDuration } from './compile'
import type { Program } from './compile'
import { cues } from './cues'
import { mostRecordBytes, recordBytes } from './record'
import { trulyMade } from './overridden'
import { layersOn, runHash } from './runHash'
import { startingRest } from './startingRest'
import { trial } from './trial'

interface Change {
  readonly path: string
  readonly from: number
  readonly to: number
}

/** By module the numbers of machines that were seen to live in its memory alone. */
const seenIn = new WeakMap<WasmModule, Set<string>>()

/**
 * The program of a document that differs from that of `program` in numbers of tuning and of cues alone, without building it
 * again: these live in memory. `undefined` where anything else differs, or may: then it has to be compiled. `followed` is what
 * is under the hand, and compiled once that has let go: numbers of the machine, and what the trial changes of them, count then
 * that were seen to live in memory as well (see `noteNumbers`), as long as they keep their sign.
 */
export function renumbered(
  program: Program,
  before: Document,
  after: Document,
  trialName: string,
  use: 'kept' | 'followed' = 'kept',
): Program | undefined {
  const changes = changesOf(before, after)
  if (changes === undefined || changes.length === 0) return undefined
  const ofMachine = numbersMoved(changes, after, trialName)
  const seen = seenIn.get(program.module)
  const inMemory = ({ path, from, to }: Change) => seen?.has(path) === true && Math.sign(from) === Math.sign(to)
  if (ofMachine.length > 0 && (use === 'kept' || !ofMachine.every(inMemory))) return undefined
  return withNumbers(program, changes, after, trialName)
}

/**
 * Looks whether the program that was compiled of a document is that of the one before but for numbers that are known without
 * building it. Numbers of the machine by which the two differ are then taken to live in memory: what reads them otherwise
 * would have given another module, but for what rounds them, of which another value may.
 */
export function noteNumbers(program: Program, before: Document, compiled: Program, after: Document, trialName: string): void {
  const changes = changesOf(before, after) ?? []
  const ofMachine = numbersMoved(changes, after, trialName)
  if (ofMachine.length === 0 || program.module !== compiled.module) return
  const known = withNumbers(program, changes, after, trialName)
  if (known === undefined || !isSame(known, compiled)) return
  const seen = seenIn.get(program.module) ?? new Set()
  const read = slotsRead(program.code)
  const isRead = (path: string) =>
    program.parameters.some((one) => (one.path === path || one.path === `true.${path}`) && read.has(one.slot))
  for (const { path } of ofMachine) if (isRead(path)) seen.add(path)
  seenIn.set(program.module, seen)
}

function isSame(one: Program, other: Program): boolean {
  const { tick, ticks, method, recordEvery, parameters } = other
  return (
    one.tick === tick &&
    one.ticks === ticks &&
    one.method === method &&
    one.recordEvery === recordEvery &&
    one.parameters.length === parameters.length &&
    one.parameters.every(({ path, value }, i) => path === parameters[i]!.path && Object.is(value, parameters[i]!.value))
  )
}

/** Numbers of the machine that are moved: in itself, or as it truly is by what the trial changes of it. */
function numbersMoved(changes: readonly Change[], document: Document, trialName: string): readonly Change[] {
  const machine = machinePath(document, trialName)
  const overrides = partsIn(document.trials[trialName]!.overrides)
  return changes.flatMap((change) => {
    if (change.path.startsWith(machine)) return [change]
    const name = changedHere(change, trialName)
    return name === undefined ? [] : [{ ...change, path: `true.${machine}${String(overrides[name]?.parameter)}` }]
  })
}

/** The change of a trial whose amount this is. */
function changedHere({ path }: Change, trialName: string): string | undefined {
  const start = `trials.${trialName}.overrides.`
  const [name, slot, ...rest] = path.startsWith(start) ? path.slice(start.length).split('.') : []
  return slot === 'amount' && rest.length === 0 ? name : undefined
}

function machinePath({ trials }: Document, trialName: string): string {
  return `machines.${trials[trialName]!.machine}.`
}

/** The program with other numbers, as far as these are known to live in memory, or are those of its machine. */
function withNumbers(program: Program, changes: readonly Change[], after: Document, trialName: string): Program | undefined {
  const isOfCues = `trials.${trialName}.cues.`
  const ofCues = changes.filter(({ path }) => path.startsWith(isOfCues))
  const ofMachine = changes.filter(({ path }) => path.startsWith(machinePath(after, trialName)))
  const ofTuning = changes.filter(({ path }) => /^loops\.[^.]+\.tuning\.[^.]+$/.test(path))
  const ofTrial = changes.filter((change) => changedHere(change, trialName) !== undefined)
  if (ofCues.length + ofMachine.length + ofTrial.length + ofTuning.length < changes.length) return undefined
  const given = new Map(program.parameters.map(({ path, value }) => [path, value]))
  const cued = new Map(ofCues.map(({ path, to }) => [path.slice(`trials.${trialName}.`.length), to]))
  if (!ofCues.every(({ path, from }) => livesInMemory(after, trialName, path.slice(isOfCues.length), given, from)))
    return undefined
  const loops = ofTuning.length + ofMachine.length === 0 ? program.loops : retuned(program.loops, after)
  if (loops === undefined) return undefined
  const length = lengthOf(program, after, trialName, loops)
  const isOther = ofMachine.length + ofTrial.length > 0
  const machine = isOther ? numbersOfMachine(after, trialName) : () => undefined
  if (length === undefined || machine === undefined) return undefined
  const { afterwards } = program
  const parameters = program.parameters.map((one) => ({
    ...one,
    value: cued.get(one.path) ?? ofLoop(loops, one.path) ?? machine(one.path) ?? one.value,
  }))
  return {
    ...program,
    ...{ loops, parameters, ticks: length, hash: runHash(after, trialName), hands: turnedFrom(program, parameters) },
    ...(afterwards === undefined || ofMachine.length === 0 ? {} : { afterwards: afterwards.of(after) }),
  }
}

/** What a person may move: a gain is turned from where it stands. */
function turnedFrom({ hands }: Program, parameters: Program['parameters']): Program['hands'] {
  const gains = new Map(
    parameters.flatMap(({ path, slot, value }) => (/^loops\.[^.]+\.gains\./.test(path) ? [[slot, value]] : [])),
  )
  return hands.map((one) => ({
    ...one,
    places: one.places.map((place) => ({ ...place, size: gains.get(place.slot) ?? place.size })),
  }))
}

/** What stands in memory of a machine: its numbers, as the model knows them and as they truly are, and where it rests. */
function numbersOfMachine(document: Document, trialName: string): ((path: string) => number | undefined) | undefined {
  const settings = valuesOf(trial, document.trials[trialName]!)
  const machine = document.machines[settings.machine]!
  const rest = startingRest(document, settings.machine)
  if (rest.kind === 'refused') return undefined
  const { states, held, pushes } = rest.value
  const truly = inScene(trulyMade(machine, settings.overrides), sceneOf(document, trialName))
  const worked = estimatorsOf(document, settings.machine).flatMap(({ name, part, kind }) =>
    Object.entries(kind.worksOut?.(machine, part) ?? {}).map(([number, value]) => [`${name}.${number}`, value] as const),
  )
  const ofEstimators = new Map<string, number>(worked)
  // the longer before those that they begin with
  const groups: readonly (readonly [string, (path: string) => number | undefined])[] = [
    [`machines.${settings.machine}.`, readIn(machine)],
    [`true.machines.${settings.machine}.`, readIn(truly)],
    [`rest.${settings.machine}.states.`, (name) => states[name]],
    [`rest.${settings.machine}.held.`, (name) => held[name]],
    [`rest.${settings.machine}.`, (name) => pushes[name]],
    ['estimators.', (name) => ofEstimators.get(name)],
  ]
  return (path) => {
    const group = groups.find(([start]) => path.startsWith(start))
    return group?.[1](path.slice(group[0].length))
  }
}

function readIn(machine: Part): (path: string) => number | undefined {
  const read = numbersOf(machine)
  return (path) => read(path) as number
}

/** Numbers that differ, by their paths; nothing where more than numbers does. */
function changesOf(before: unknown, after: unknown, path = ''): readonly Change[] | undefined {
  if (before === after) return []
  if (typeof before === 'number' && typeof after === 'number') return [{ path, from: before, to: after }]
  if (typeof before !== 'object' || typeof after !== 'object' || before === null || after === null) return undefined
  const [keys, others] = [Object.keys(before), Object.keys(after)]
  if (keys.length !== others.length || keys.some((key, i) => key !== others[i])) return undefined
  const found: Change[] = []
  for (const key of keys) {
    const inside = changesOf(before[key as never], after[key as never], path === '' ? key : `${path}.${key}`)
    if (inside === undefined) return undefined
    found.push(...inside)
  }
  return found
}

/** Whether a number of a cue is read from memory alone: one that was nothing, or is that now, may have folded away. */
function livesInMemory(
  { trials }: Document,
  trialName: string,
  path: string,
  given: ReadonlyMap<string, number>,
  from: number,
): boolean {
  const [name = '', slot = '', ...rest] = path.split('.')
  const cue = partsIn(trials[trialName]!.cues)[name]!
  // what a cue adds to the machine is built with it, and may swing faster than steps are made for
  return (
    rest.length === 0 &&
    from !== 0 &&
    cue[slot] !== 0 &&
    findKind(cues, cue)?.adds === undefined &&
    given.get(`cues.${path}`) === from
  )
}

/** Designs anew; nothing where one is refused, or is other than in its gains. */
function retuned(
  loops: Readonly<Record<string, LoopDesign>>,
  document: Document,
): Readonly<Record<string, LoopDesign>> | undefined {
  const made: Record<string, LoopDesign> = {}
  for (const [name, was] of Object.entries(loops)) {
    const design = designLoop(document, name)
    if (design.kind === 'refused' || otherwiseThanGains(design.value) !== otherwiseThanGains(was)) return undefined
    made[name] = design.value
  }
  return made
}

/** What of a design a program is built of, beside its gains. */
function otherwiseThanGains({ values: { tuning: _tuning, ...values }, model, gains }: LoopDesign): string {
  const { law, shown, dt, delay } = model
  return JSON.stringify([values, law.key, shown, dt, delay, Object.keys(gains)])
}

function ofLoop(loops: Readonly<Record<string, LoopDesign>>, path: string): number | undefined {
  if (!path.startsWith('loops.')) return undefined
  // gains of signals have their dotted names
  const [, name = '', what, ...rest] = path.split('.')
  const design = loops[name]
  if (design === undefined) return undefined
  if (what === 'gains') return design.gains[rest.join('.')] ?? 0
  return what === 'rest' ? (rest[0] === 'held' ? design.nominalHeld : design.nominalPush) : undefined
}

/** Ticks of the trial; nothing where its ticks are others, or its record grows too long. */
function lengthOf(
  { tick, columns, recordEvery }: Program,
  document: Document,
  trialName: string,
  loops: Readonly<Record<string, LoopDesign>>,
): number | undefined {
  const settings = valuesOf(trial, document.trials[trialName]!)
  const rates = ticksOf(document, trialName, loops, layersOn(settings))
  if (rates.kind === 'refused' || 1 / rates.value.base !== tick) return undefined
  const ticks = Math.round(trialDuration(settings) * rates.value.base) + 1
  return recordBytes(ticks, recordEvery, columns.length) > mostRecordBytes ? undefined : ticks
}
