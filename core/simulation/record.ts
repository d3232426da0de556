import type { AngleSort } from '../machine'

/** Bytes of a record as it is kept: an hour of sixty signals at 400 Hz has 700 MB. */
export const mostRecordBytes = 1_000_000_000

/** Bytes of a record with a row every so many ticks. */
export function recordBytes(ticks: number, recordEvery: number, columns: number): number {
  return 8 * (Math.floor((ticks - 1) / recordEvery) + 1) * (columns + 1)
}

export type Role = 'reference' | 'actual' | 'measured' | 'estimate' | 'command' | 'term'

/** Where a column stands in a family: signals of one sort over a second index, such as what each tyre carries. */
export interface FamilyPlace {
  /** `porter.forces.normal`: what all its columns have. */
  readonly name: string
  readonly label: string
  /** What the second index is: `part`, or of a number its unit. */
  readonly over: string
  readonly at: string | number
}

/** One signal of a record. */
export interface Column {
  /** Path: `lamplighter.height`, `loops.height.command`. */
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly role: Role
  readonly angle?: AngleSort
  readonly family?: FamilyPlace
  /** Rows between fresh values, where a sensor is slower than the record. */
  readonly every?: number
}

export type Ending =
  | { readonly kind: 'finished' }
  | { readonly kind: 'stopped' }
  /** A person has it in hand. */
  | { readonly kind: 'goesOn' }
  /** A check that ends the run failed at that time, s. */
  | { readonly kind: 'ended'; readonly at: number; readonly check: string }
  /** The run was ended because a state grew beyond all bounds or was no longer a number. */
  | { readonly kind: 'diverged'; readonly at: number; readonly state: string; readonly value: number; readonly why?: string }

export interface FilledColumn extends Column {
  readonly values: Float64Array
  /**
   * The same from a row on where its least value is looked for, of a column that is dear: exact where it is that, where it is
   * below a value, and in the row before; elsewhere no more than it is and no less than the greater of the two. Before that
   * row it says nothing.
   */
  readonly least?: (from: number, below: number) => Float64Array
}

/** How far a run differs from the same with other steps. */
export interface Accuracy {
  /** Of what the signal moves through, at most 1. */
  readonly share: number
  /** The signal that differs most. */
  readonly column: string
  readonly label: string
}

/** Something that limited a run, or would have. */
export interface LimitHit {
  readonly sort: 'stop' | 'drive' | 'ground' | 'touch' | 'unbalanced'
  /** `boom.angle`, `drives.hoist`, a body, or the machine. */
  readonly name: string
  readonly label: string
  readonly unit: string
  /** s, when it was first reached, and how long it was beyond in all. */
  readonly at: number
  readonly during: number
  /** The limit, and the farthest that it was passed or asked to be passed; of the ground its height there. */
  readonly limit: number
  readonly farthest: number
}

/** When a cue came in a run, and when it was over, s; nothing of what had not come when the run ended. */
export interface CueCame {
  readonly cue: string
  readonly began?: number
  readonly over?: number
}

/** What a run leaves. */
export interface Record {
  readonly hash: string
  readonly trial: string
  readonly seed: number
  readonly layers: readonly string[]
  /** s */
  readonly time: Float64Array
  readonly columns: readonly FilledColumn[]
  /** The same values, row after row, of a run that was just made. */
  readonly rows?: Float64Array
  readonly ending: Ending
  /** Cues of the trial, in their order; absent where it has none. */
  readonly cues?: readonly CueCame[]
  /** Absent where it was not looked for, and for a sampled machine, which takes no steps. */
  readonly accuracy?: Accuracy
  /** What limited it: absent where it was not looked for. */
  readonly limits?: readonly LimitHit[]
}

/** What a column is, without its values. */
export function columnHead({ values: _values, least: _least, ...column }: FilledColumn): Column {
  return column
}

/**
 * Columns over values that lie row after row, each turned when it is first read: of the many that a run keeps, a page
 * shows few.
 */
export function columnsOver(columns: readonly Column[], rows: Float64Array): FilledColumn[] {
  return columns.map((column, c) => {
    let turned: Float64Array | undefined
    return {
      ...column,
      get values() {
        return (turned ??= turn(rows, columns.length, c))
      },
    }
  })
}

function turn(rows: Float64Array, width: number, c: number): Float64Array {
  const values = new Float64Array(rows.length / width)
  for (let k = 0, at = c; k < values.length; k++, at += width) values[k] = rows[at]!
  return values
}

export function findColumn(record: Pick<Record, 'columns'>, name: string): Float64Array | undefined {
  return record.columns.find((column) => column.name === name)?.values
}

/** A column as far as its least value from a row on, and whether it goes below another, are concerned. */
export function leastOfColumn(
  record: Pick<Record, 'columns'>,
  name: string,
  from: number,
  below: number,
): Float64Array | undefined {
  const found = record.columns.find((column) => column.name === name)
  return found?.least?.(from, below) ?? found?.values
}

/** The row of a record nearest to a time, s. */
export function rowAt({ time }: Pick<Record, 'time'>, t: number): number {
  const step = time.length > 1 ? time[1]! - time[0]! : 1
  return Math.min(Math.max(Math.round(t / step), 0), time.length - 1)
}
