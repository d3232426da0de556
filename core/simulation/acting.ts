import { norm, plus, scaled } from '../algebra'
import { partsIn } from '../document'
import type { Document, Part } from '../document'
import { labelOf } from '../kinds'
import { inScene, sceneOf } from '../scene'
import { cueAt } from './cues'
import { rowAt } from './record'
import type { FilledColumn, Record } from './record'
import { typedCues } from './reference'

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
    const wind = [...steady, ...(hasWind ? air : [])].reduce((all, one) => plus(all, one) as Triple, nowhere)
    return [
      ...drives.map(({ column, axis, ...one }): Acting => ({ ...one, vector: scaled(axis, column.values[row]!) as Triple })),
      ...now.filter(({ sort }) => sort === 'push'),
      ...(hasWind && norm(wind) > 0
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
  const unit = column.unit as 'N' | 'N·m'
  return [
    {
      label: labelOf(drive, name),
      sort: 'drive',
      unit,
      body,
      at,
      axes: 'own',
      axis: scaled(axis, 1 / norm(axis)) as Triple,
      column,
    },
  ]
}

/** Each cue from outside as what it does at a time, s. */
function pushesIn(document: Document, trial: string): readonly ((t: number) => readonly Acting[])[] {
  return typedCues(document, trial).flatMap((cue) => {
    const added = cue.kind.adds?.(cue.part as never)
    if (added === undefined) return []
    const label = labelOf(cue.part, cue.kind.label)
    return [
      (t: number): readonly Acting[] => {
        if (t < (cue.begins as number) || t >= (cue.over as number)) return []
        const now = cueAt(cue, t)
        const triple = (what: string) => [0, 1, 2].map((i) => added.numbers[`${what}.${i}`]?.(now) ?? 0) as unknown as Triple
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
