import { partsIn } from '../document'
import type { Document } from '../document'
import { findKind, valuesOf } from '../kinds'
import { designLoop } from '../tuning'
import type { LoopDesign } from '../tuning'
import { ticksOf, trialDuration } from './compile'
import type { Program } from './compile'
import { cues } from './cues'
import { mostRecordBytes, recordBytes } from './record'
import { layersOn, runHash } from './runHash'
import { trial } from './trial'

interface Change {
  readonly path: string
  readonly from: number
  readonly to: number
}

/**
 * The program of a document that differs from that of `program` in numbers of tuning and of cues alone, without building it
 * again: these live in memory. `undefined` where anything else differs, or may: then it has to be compiled.
 */
export function renumbered(program: Program, before: Document, after: Document, trialName: string): Program | undefined {
  const changes = changesOf(before, after)
  if (changes === undefined || changes.length === 0) return undefined
  const isOfCues = `trials.${trialName}.cues.`
  const ofCues = changes.filter(({ path }) => path.startsWith(isOfCues))
  const ofTuning = changes.filter(({ path }) => /^loops\.[^.]+\.tuning\.[^.]+$/.test(path))
  if (ofCues.length + ofTuning.length < changes.length) return undefined
  // hands turn gains from where they stand
  if (Object.keys(partsIn(after.trials[trialName]!.hands)).length > 0) return undefined
  const given = new Map(program.parameters.map(({ path, value }) => [path, value]))
  const cued = new Map(ofCues.map(({ path, to }) => [path.slice(`trials.${trialName}.`.length), to]))
  if (!ofCues.every(({ path, from }) => livesInMemory(after, trialName, path.slice(isOfCues.length), given, from)))
    return undefined
  const loops = ofTuning.length === 0 ? program.loops : retuned(program.loops, after)
  if (loops === undefined) return undefined
  const length = lengthOf(program, after, trialName, loops)
  if (length === undefined) return undefined
  return {
    ...program,
    loops,
    ticks: length,
    hash: runHash(after, trialName),
    parameters: program.parameters.map((one) => ({ ...one, value: cued.get(one.path) ?? ofLoop(loops, one.path) ?? one.value })),
  }
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
function otherwiseThanGains({
  values: { tuning: _tuning, ...values },
  model,
  gains,
  nominalHeld,
  nominalPush,
}: LoopDesign): string {
  const { law, shown, dt, delay } = model
  return JSON.stringify([values, law.key, shown, dt, delay, Object.keys(gains), nominalHeld, nominalPush])
}

function ofLoop(loops: Readonly<Record<string, LoopDesign>>, path: string): number | undefined {
  // gains of signals have their dotted names
  const [of, name = '', what, ...gain] = path.split('.')
  return of === 'loops' && what === 'gains' ? (loops[name]?.gains[gain.join('.')] ?? 0) : undefined
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
