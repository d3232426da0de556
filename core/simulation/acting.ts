import { partsIn } from '../document'
import type { Document, Part } from '../document'
import { findKind, labelOf } from '../kinds'
import { inScene, sceneOf } from '../scene'
import { cues } from './cues'
import type { CueNow } from './cues'
import { rowAt } from './record'
import type { FilledColumn, Record } from './record'
import { cueTimes } from './reference'

type Triple = readonly [number, number, number]

/** A force, a torque or the wind at an instant of a run. */
export interface Acting {
  readonly label: string
  /** What it comes from: a drive of the machine, a cue from outside, or the air. */
  readonly sort: 'drive' | 'push' | 'wind'
  readonly unit: 'N' | 'N·m' | 'm/s'
  /** The body on which it acts, and where, m in its axes; nothing of the wind. */
  readonly body?: string
  readonly at: Triple
  /** N, N·m or m/s. */
  readonly vector: Triple
  readonly axes: 'own' | 'world'
}

/**
 * What acts in a run, by time: drives with an axis on a body by what the record says that they gave, pushes and twists of
 * cues, and wind that blows everywhere. `document` has its cues as they came. What is not recorded is not told.
 */
export function actingIn(document: Document, trial: string, record: Record): (t: number) => readonly Acting[] {
  const given = document.trials[trial]!
  const machine = inScene(document.machines[given.machine]!, sceneOf(document, trial))
  const drives = Object.entries(partsIn(machine.drives)).flatMap(([name, drive]) => driveOf(record, given.machine, name, drive))
  const hasWind = record.layers.includes('gusts')
  const steady = Object.values(partsIn(machine.surroundings)).flatMap((part) =>
    hasWind && part.kind === 'steadyWind' ? [part.velocity as Triple] : [],
  )
  const pushes = pushesIn(document, trial)
  return (t) => {
    const row = rowAt(record, t)
    const now = pushes.flatMap((push) => push(t))
    const air = now.filter(({ sort }) => sort === 'wind').map(({ vector }) => vector)
    const wind = sum([...steady, ...(hasWind ? air : [])])
    return [
      ...drives.map(({ column, axis, ...one }): Acting => ({ ...one, vector: times(axis, column.values[row]!) })),
      ...now.filter(({ sort }) => sort === 'push'),
      ...(hasWind && sizeOf(wind) > 0
        ? [{ label: 'wind', sort: 'wind' as const, unit: 'm/s' as const, at: nowhere, vector: wind, axes: 'world' as const }]
        : []),
    ]
  }
}

const nowhere: Triple = [0, 0, 0]

interface Drive extends Omit<Acting, 'vector'> {
  readonly axis: Triple
  readonly column: FilledColumn
}

/** A drive that pushes or twists a body along its axis, by the first force or torque that the record has of it. */
function driveOf(record: Record, machine: string, name: string, drive: Part): readonly Drive[] {
  const { body, at, axis } = drive as { readonly body?: string; readonly at?: Triple; readonly axis?: Triple }
  if (body === undefined || at === undefined || axis === undefined) return []
  const own = `${machine}.drives.${name}.`
  const column = record.columns.find((one) => one.name.startsWith(own) && (one.unit === 'N' || one.unit === 'N·m'))
  if (column === undefined) return []
  const length = sizeOf(axis)
  const unit = column.unit as 'N' | 'N·m'
  return [{ label: labelOf(drive, name), sort: 'drive', unit, body, at, axes: 'own', axis: times(axis, 1 / length), column }]
}

/** Each cue from outside as what it does at a time, s. */
function pushesIn(document: Document, trial: string): readonly ((t: number) => readonly Acting[])[] {
  const all = partsIn(document.trials[trial]!.cues)
  const spans = new Map(cueTimes(document.trials[trial]!).map((one) => [one.name, one]))
  return Object.entries(all).flatMap(([name, cue]) => {
    const kind = findKind(cues, cue)
    const added = kind?.adds?.(cue as never)
    const span = spans.get(name)
    if (kind === undefined || added === undefined || span === undefined) return []
    const slots = kind.slots as { readonly [slot: string]: { readonly otherwise?: unknown } }
    const read = (path: string) => (cue[path] ?? slots[path]?.otherwise ?? 0) as number
    return [
      (t: number): readonly Acting[] => {
        if (t < span.begins || t >= span.over) return []
        const now: CueNow = { t, since: t - span.begins, share: 1, read }
        const triple = (what: string) =>
          [0, 1, 2].map((i) => (added.numbers[`${what}.${i}`]?.(now) ?? 0) as number) as unknown as Triple
        const label = labelOf(cue, kind.label)
        if (added.group === 'surroundings')
          return 'velocity.0' in added.numbers
            ? [{ label, sort: 'wind', unit: 'm/s', at: nowhere, vector: triple('velocity'), axes: 'world' }]
            : []
        const isForce = 'force.0' in added.numbers
        const { body, axes } = added.part as unknown as { readonly body: string; readonly axes: 'own' | 'world' }
        const vector = triple(isForce ? 'force' : 'torque')
        return [{ label, sort: 'push', unit: isForce ? 'N' : 'N·m', body, at: triple('at'), vector, axes }]
      },
    ]
  })
}

function sizeOf([x, y, z]: Triple): number {
  return Math.sqrt(x * x + y * y + z * z)
}

function times([x, y, z]: Triple, by: number): Triple {
  return [x * by, y * by, z * by]
}

function sum(all: readonly Triple[]): Triple {
  return all.reduce<Triple>((one, other) => [one[0] + other[0], one[1] + other[1], one[2] + other[2]], nowhere)
}
