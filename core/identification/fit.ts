import { singularValues } from '../algebra'
import { done, refused, refusedFor } from '../document'
import type { Document, Outcome, Problem } from '../document'
import type { FindMesh } from '../machine'
import { compile, findColumn, start, startSensitive } from '../simulation'
import type { Program, Record as RunRecord, RunChoices, Sensitive, Simulation } from '../simulation'
import { candidatesOf } from './candidates'
import type { Candidate } from './candidates'
import { leastLate, noiseOf, runAt, shortWay } from './measured'
import type { Measured } from './measured'

/** A trial, its record and the window in which they are compared. */
export interface FitAsked {
  readonly written: Document
  readonly resolved: Document
  readonly trial: string
  readonly measured: Measured
  readonly from: number
  readonly to: number
}

/** What of a measured signal is compared. */
export interface FitSignal {
  readonly name: string
  readonly label: string
  readonly unit: string
  /** Standard deviation of its noise, as the record itself shows it from row to row. */
  readonly noise: number
  /** Rows within the window. */
  readonly count: number
}

/** A run of a trial beside a record, ready to be run with other numbers and to tell how it changes with them. */
export interface Bench {
  readonly signals: readonly FitSignal[]
  /** Rows a second that are compared. */
  readonly rate: number
  readonly candidates: readonly Candidate[]
  /** Record less run with these numbers and this much later, each signal in parts of its noise, one after the other. */
  residual(values: Values, late: number): Float64Array | undefined
  /** The same and how it changes with each of these candidates, and with how late the record is. */
  slopes(values: Values, late: number, of: readonly Candidate[]): Slopes | undefined
  /** The run itself, and the residual against one that was made. */
  run(values: Values): RunRecord
  against(record: RunRecord, late: number): Float64Array
}

/** Values of candidates by their names; the others are as they are. */
export type Values = ReadonlyMap<string, number>

export interface Slopes {
  readonly residual: Float64Array
  /** One a candidate: how much the residual falls with it. */
  readonly columns: readonly Float64Array[]
  readonly late: Float64Array
}

/** Rows of a record that are compared: of more, every second one, and so on. */
const mostRows = 4000

/** A trial beside a record. Refused where nothing of both can be compared. */
export function benchOf(asked: FitAsked, findMesh?: FindMesh): Outcome<Bench> {
  const { written, resolved, trial, measured, from, to } = asked
  const rows = rowsFor(measured, from, to)
  if (rows.length < 8) {
    const [first, last] = [measured.time[0]!, measured.time.at(-1)!].map((t) => Number(t.toPrecision(4)))
    return refusedFor(
      'window',
      `From ${from} s to ${to} s there are ${rows.length} rows of the record.`,
      `It goes from ${first} s to ${last} s.`,
    )
  }
  const only = new Set(measured.signals.keys())
  const choices = findMesh === undefined ? { only } : { only, findMesh }
  const program = steadily(resolved, trial, choices)
  if (program.kind === 'refused') return program
  const columns = program.value.columns.filter(({ name }) => measured.signals.has(name))
  const times = Float64Array.from(rows, (row) => measured.time[row]!)
  const signals = columns.flatMap((column): (FitSignal & { readonly told: Float64Array; readonly goesRound: boolean })[] => {
    const told = Float64Array.from(rows, (row) => measured.signals.get(column.name)![row]!)
    const count = told.reduce((sum, value) => sum + (Number.isNaN(value) ? 0 : 1), 0)
    const { name, label, unit } = column
    const noise = noiseOf(told)
    return count < 8 ? [] : [{ name, label, unit, noise, count, told, goesRound: column.angle === 'goesRound' }]
  })
  if (signals.length === 0)
    return refusedFor(
      'record',
      'No column of the record is a signal of this run with rows in the window.',
      'Say of at least one column which signal it is.',
    )
  const candidates = candidatesOf(written, resolved, trial)
  const byName = new Map(candidates.map((one) => [one.name, one]))
  const { seed } = resolved.trials[trial]!
  const given = (values: Values): RunChoices => {
    const inMemory = [...values].flatMap(([name, value]) => [...(byName.get(name)?.at(value) ?? [])])
    return { trial, layers: [], seed, values: Object.fromEntries(inMemory) }
  }
  let plain: Simulation | undefined
  let sensitive: Sensitive | undefined
  const run = (values: Values) => (plain ??= start(program.value)).run(given(values))
  /** Of a run, or of slopes of it, at the times of the record, in parts of noise. */
  const along = (record: Pick<RunRecord, 'time'>, find: (name: string) => ArrayLike<number>, late: number) =>
    signals.map(({ name }) =>
      runAt(
        record,
        find(name),
        times.map((t) => t - late),
      ),
    )
  const residualOf = (record: RunRecord, late: number) => {
    const parts = along(record, (name) => findColumn(record, name)!, late)
    return joined(
      signals.map(({ told, noise, goesRound }, i) => told.map((value, k) => shortWay(value - parts[i]![k]!, goesRound) / noise)),
    )
  }
  return done({
    ...{ candidates, rate: 1 / (measured.step * Math.ceil((rows.at(-1)! - rows[0]! + 1) / rows.length)) },
    signals: signals.map(({ told: _told, goesRound: _goesRound, ...one }) => one),
    run,
    against: residualOf,
    residual: (values, late) => finished(run(values), (record) => residualOf(record, late)),
    slopes: (values, late, of) => {
      const paths = new Set(candidates.flatMap((one) => [...one.direction(one.value).keys()]))
      sensitive ??= startSensitive(program.value, paths)
      const directions = of.map((one) => one.direction(values.get(one.name) ?? one.value))
      const made = sensitive.run(given(values), directions)
      return finished(made.record, (record) => {
        const parts = (find: (name: string) => ArrayLike<number>) =>
          joined(along(record, find, late).map((values, i) => values.map((value) => value / signals[i]!.noise)))
        const step = record.time[1]! - record.time[0]!
        const rates = (name: string) => {
          const values = findColumn(record, name)!
          return values.map((_, k) => (values[Math.min(k + 1, values.length - 1)]! - values[Math.max(0, k - 1)]!) / (2 * step))
        }
        return {
          residual: residualOf(record, late),
          columns: made.slopes.map((columns) => parts((name) => columns.find((one) => one.name === name)!.values)),
          late: parts(rates).map((value) => -value),
        }
      })
    },
  })
}

/** How late a record is against the run as it stands: near a guess, where both differ least. */
export function bestLate(bench: Bench, guess: number): number {
  const record = bench.run(new Map())
  return leastLate((late) => squares(bench.against(record, late)), guess, bench.rate)
}

/** A program whose steps do not hang on the numbers: measured steps of an explicit method dance where modes are stiff. */
function steadily(document: Document, trial: string, choices: Parameters<typeof compile>[2]): Outcome<Program> {
  const made = compile(document, trial, choices)
  if (made.kind === 'refused' || made.value.method !== 'adaptive') return made
  const trials = { ...document.trials, [trial]: { ...document.trials[trial]!, method: 'implicit' } }
  return compile({ ...document, trials } as Document, trial, choices)
}

function rowsFor({ time }: Measured, from: number, to: number): number[] {
  const inside = [...time.keys()].filter((k) => time[k]! >= from - 1e-9 && time[k]! <= to + 1e-9)
  const every = Math.ceil(inside.length / mostRows)
  return inside.filter((_, i) => i % every === 0)
}

function joined(parts: readonly Float64Array[]): Float64Array {
  const all = new Float64Array(parts.reduce((sum, { length }) => sum + length, 0))
  let at = 0
  for (const part of parts) {
    all.set(part, at)
    at += part.length
  }
  return all
}

/** Of a run that came to its end: one that broke off compares with nothing. */
function finished<Value>(record: RunRecord, of: (record: RunRecord) => Value): Value | undefined {
  return record.ending.kind === 'finished' ? of(record) : undefined
}

/** A number that was fitted. */
export interface Fitted {
  readonly candidate: Candidate
  readonly value: number
  /** Twice the standard deviation that is left: with 95 % it is no farther off. */
  readonly bound: number
}

export interface Fit {
  readonly numbers: readonly Fitted[]
  /** s, and twice its standard deviation. */
  readonly late: { readonly value: number; readonly bound: number }
  readonly steps: number
  /** The largest singular value of the slopes by the smallest, in relative changes. */
  readonly ratio: number
}

const mostSteps = 15
/** The sum of squares no longer falls by this share. */
const settled = 1e-6
/** Below this share of the largest, what the record says of a combination is rounding. */
const leastTold = 1e-7

/**
 * The numbers with which a run is nearest to its record, and how late that is: Gauss-Newton steps along exact slopes, each
 * shortened until it helps (Levenberg and Marquardt; Nocedal & Wright, Numerical Optimization, 2nd ed., section 10.3). Bounds
 * are by the slopes at the end and by what is left, as if that were white. Refused where the record cannot tell them apart.
 */
export function fitNumbers(bench: Bench, chosen: readonly Candidate[], late: number): Outcome<Fit> {
  let [values, shift]: [Values, number] = [new Map(chosen.map(({ name, value }) => [name, value])), late]
  let now = bench.slopes(values, shift, chosen)
  if (now === undefined) return broken()
  const scales = [...chosen.map(({ value }) => Math.abs(value) || 1), 1]
  let [damping, steps] = [1e-6, 0]
  for (; steps < mostSteps; steps++) {
    const before = squares(now.residual)
    const columns = [...now.columns, now.late].map((column, i) =>
      column.map((value) => (Number.isNaN(value) ? 0 : value * scales[i]!)),
    )
    const sizes = columns.map(sizeOfColumn)
    let moved: { values: Values; shift: number; left: number } | undefined
    while (moved === undefined && damping < 1e6) {
      const step = leastSquares(columns, sizes, now.residual, damping)
      const next = new Map(
        chosen.map(({ name }, i) => [name, within(values.get(name)!, values.get(name)! + step[i]! * scales[i]!)]),
      )
      const nextShift = shift + step.at(-1)!
      const residual = bench.residual(next, nextShift)
      const left = residual === undefined ? Infinity : squares(residual)
      if (left <= before) moved = { values: next, shift: nextShift, left }
      else damping = damping * 10 + 1e-6
    }
    if (moved === undefined) break
    ;[values, shift, damping] = [moved.values, moved.shift, damping / 10]
    const made = bench.slopes(values, shift, chosen)
    if (made === undefined) return broken()
    now = made
    if (before - moved.left <= settled * before) break
  }
  return done({ ...boundsOf(now, chosen, values, shift, scales), steps: Math.max(1, steps) })
}

function boundsOf(
  now: Slopes,
  chosen: readonly Candidate[],
  values: Values,
  shift: number,
  scales: readonly number[],
): Omit<Fit, 'steps'> {
  const rows = [...now.residual.keys()].filter((k) => !Number.isNaN(now.residual[k]!))
  const all = [...now.columns, now.late]
  const matrix = rows.map((k) => all.map((column, i) => zeroed(column[k]!) * scales[i]!))
  const { values: singular, v } = singularValues(matrix, all.length)
  // mean square of what is left in parts of noise: 1 where nothing but noise is
  const scatter = Math.max(1, squares(now.residual) / Math.max(1, rows.length - all.length))
  const bound = (i: number) => {
    const variance = singular.reduce((sum, s, k) => sum + (v[i]![k]! / Math.max(s, leastTold * singular[0]!, 1e-300)) ** 2, 0)
    return 2 * scales[i]! * Math.sqrt(scatter * variance)
  }
  return {
    numbers: chosen.map((candidate, i) => ({ candidate, value: values.get(candidate.name)!, bound: bound(i) })),
    late: { value: shift, bound: bound(all.length - 1) },
    ratio: singular[0]! / (singular.at(-1) ?? 1),
  }
}

function zeroed(value: number): number {
  return Number.isNaN(value) ? 0 : value
}

/** What is positive stays so, as a mass below nothing is no mass, and nothing changes more than threefold in a step. */
function within(before: number, after: number): number {
  if (before === 0) return after
  return before * Math.min(3, Math.max(1 / 3, after / before))
}

/** Sum of squares of what is known. */
export function squares(values: Float64Array): number {
  return values.reduce((sum, value) => (Number.isNaN(value) ? sum : sum + value * value), 0)
}

/** The step that brings the residual down most, columns taken alike by their sizes and damped. */
function leastSquares(
  columns: readonly Float64Array[],
  sizes: readonly number[],
  residual: Float64Array,
  damping: number,
): readonly number[] {
  const rows = [...residual.keys()].filter((k) => !Number.isNaN(residual[k]!))
  const matrix = rows.map((k) => columns.map((column, i) => (sizes[i] === 0 ? 0 : column[k]! / sizes[i]!)))
  const { values, u, v } = singularValues(matrix, columns.length)
  const along = values.map((s, k) => {
    const told = rows.reduce((sum, row, j) => sum + u[j]![k]! * residual[row]!, 0)
    return s <= leastTold * values[0]! ? 0 : (s / (s * s + damping)) * told
  })
  return columns.map((_, i) => (sizes[i] === 0 ? 0 : along.reduce((sum, value, k) => sum + v[i]![k]! * value, 0) / sizes[i]!))
}

function broken(): Outcome<never> {
  const problem: Problem = {
    where: 'run',
    what: 'The run breaks off, so there is nothing to compare.',
    remedy: 'Let the window end before that, or start from numbers with which it goes on.',
  }
  return refused([problem])
}

/** Length of a column, of what is known of it. */
export function sizeOfColumn(column: Float64Array): number {
  return Math.sqrt(squares(column))
}
