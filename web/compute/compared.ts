import { done, partsIn, refusedFor } from '@calm-hand/core/document'
import type { Document, Outcome, Part, Problem } from '@calm-hand/core/document'
import {
  asRun,
  benchOf,
  bestLate,
  cuesThatSeparate,
  isOfWords,
  knownRows,
  likelyLate,
  measuredOf,
  noiseOf,
  recordAccount,
  recordLess,
  slopesOfCandidates,
  spectrumOf,
  unitCautions,
} from '@calm-hand/core/identification'
import type {
  Bench,
  FitAsked,
  Measured,
  MeasuredTable,
  RecordAccount,
  Separation,
  Spectrum,
} from '@calm-hand/core/identification'
import { compile, runHash, signalsOf, spanFigures, verdictsOf } from '@calm-hand/core/simulation'
import type { Column, Record as RunRecord, SpanFigures, Verdict } from '@calm-hand/core/simulation'
import { measuredTable } from '../workers/measuredTables'
import { standingMeshes } from '../workers/standingMeshes'

/** What is compared with a record: a run, its prediction, a pinned run, with the signals that it tells. */
export interface Besides {
  readonly name: string
  readonly time: Float64Array
  readonly columns: readonly (Column & { readonly values: Float64Array })[]
}

/** A column of the file, as it is. */
export interface FileColumn {
  readonly name: string
  /** The first row, as it was read. */
  readonly first: string
  readonly isOfWords: boolean
}

export interface Difference {
  readonly run: string
  readonly signal: string
  /** Record less run at the times of the record. */
  readonly values: Float64Array
  /** Over the window. */
  readonly rms: number
  readonly most: number
  readonly spectrum: Spectrum | undefined
}

/** What a signal does over the window, in the record and in each run. */
export interface SideBySide {
  readonly run: string
  readonly signal: string
  readonly figures: SpanFigures
}

export interface Compared {
  readonly columns: readonly FileColumn[]
  readonly rows: number
  readonly every: number
  /** Nothing where it cannot be mapped, and why. */
  readonly measured: Measured | undefined
  readonly problems: readonly Problem[]
  readonly noise: Readonly<Record<string, number>>
  readonly shift:
    | {
        readonly signal: string
        readonly best: number
        readonly likeness: number
        readonly unmoved: number
        readonly lag: Float64Array
        readonly value: Float64Array
      }
    | undefined
  readonly differences: readonly Difference[]
  readonly figures: readonly SideBySide[]
  /** What each says of the checks, by its name; the record has none. Checks of what it does not tell are open. */
  readonly verdicts: readonly { readonly run: string; readonly said: readonly Verdict[] }[]
}

/** s: as far to both sides a shift is looked for. */
const mostShift = 3

/** A measured record beside runs of its trial. */
export async function compared(
  document: Document,
  trial: string,
  name: string,
  besides: readonly Besides[],
  from: number,
  to: number,
): Promise<Outcome<Compared>> {
  const found = await recordOf(document, trial, name)
  if (found.kind === 'refused') return found
  const { part, path, table } = found.value
  const [first] = besides
  const made = measuredOf(table, part, path, signalsOf(document, trial, first))
  const about = {
    columns: table.columns.map((_, c) => columnOf(table, c)),
    rows: table.rows,
    every: table.every,
  }
  if (made.kind === 'refused')
    return done({
      ...about,
      measured: undefined,
      problems: made.problems,
      noise: {},
      shift: undefined,
      differences: [],
      figures: [],
      verdicts: [],
    })
  const measured = made.value
  const runs = besides.map((one) => ({ ...one, record: { time: one.time, columns: one.columns } as unknown as RunRecord }))
  const shift = first === undefined ? undefined : likelyLate(measured, runs[0]!.record, mostShift)
  const signals = [...measured.signals.keys()]
  const differences = runs.flatMap(({ name: run, record }) =>
    signals.flatMap((signal) => differenceOf(measured, record, run, signal, from, to)),
  )
  const sides = [
    ...signals.map((signal) => ({ run: '', signal, time: measured.time, values: measured.signals.get(signal)! })),
    ...besides.flatMap(({ name: run, time, columns }) =>
      columns.flatMap((column) =>
        measured.signals.has(column.name) ? [{ run, signal: column.name, time, values: column.values }] : [],
      ),
    ),
  ]
  return done({
    ...about,
    measured,
    problems: [...measured.cautions, ...(first === undefined ? [] : unitCautions(measured, runs[0]!.record, path, part))],
    noise: Object.fromEntries(signals.map((signal) => [signal, noiseOf(measured.signals.get(signal)!)])),
    shift:
      shift === undefined
        ? undefined
        : {
            ...{
              signal: shift.signal,
              best: shift.late + Number(part.late),
              likeness: shift.found.best.value,
              unmoved: shift.found.unmoved,
            },
            lag: shift.found.lag.map((lag) => lag + Number(part.late)),
            value: shift.found.value,
          },
    differences,
    verdicts:
      first === undefined
        ? []
        : [
            { run: '', said: verdictsOf(document, trial, asRun(measured, runs[0]!.record)) },
            ...runs.map(({ name: run, record }) => ({
              run,
              said: verdictsOf(document, trial, { ...record, ending: { kind: 'finished' } }),
            })),
          ],
    figures: sides.flatMap(({ run, signal, time, values }) => {
      const known = knownRows(time, values)
      const figures = spanFigures(known.time, known.values, from, to)
      return figures === undefined ? [] : [{ run, signal, figures }]
    }),
  })
}

/** The part of a record and what its file held. */
async function recordOf(
  document: Document,
  trial: string,
  name: string,
): Promise<Outcome<{ readonly part: Part; readonly path: string; readonly table: MeasuredTable }>> {
  const path = `trials.${trial}.records.${name}`
  const part = partsIn(document.trials[trial]!.records)[name]
  if (part === undefined) return refusedFor(path, `This trial has no record ${name}.`, 'Give its file.')
  const table = await measuredTable(String(part.data), String(part.file))
  return table.kind === 'refused' ? table : done({ part, path, table: table.value })
}

function columnOf({ columns }: MeasuredTable, c: number): FileColumn {
  const column = columns[c]!
  const place = column.texts?.places[0] ?? -1
  const value = column.values[0] ?? NaN
  const first = place >= 0 ? `"${column.texts!.words[place]!}"` : Number.isNaN(value) ? '' : String(Number(value.toPrecision(6)))
  return { name: column.name, first, isOfWords: isOfWords(column) }
}

function differenceOf(
  measured: Measured,
  record: RunRecord,
  run: string,
  signal: string,
  from: number,
  to: number,
): readonly Difference[] {
  const values = recordLess(measured, record, signal)
  if (values === undefined) return []
  const inside = values.filter((value, k) => !Number.isNaN(value) && measured.time[k]! >= from && measured.time[k]! <= to)
  if (inside.length === 0) return []
  const rms = Math.sqrt(inside.reduce((sum, value) => sum + value * value, 0) / inside.length)
  const most = inside.reduce((far, value) => Math.max(far, Math.abs(value)), 0)
  return [{ run, signal, values, rms, most, spectrum: spectrumOf(inside, 1 / measured.step) }]
}

/** The last trial beside its record: every piece of an account asks for it. */
let lastBench: { readonly key: string; readonly made: Outcome<MadeBench> } | undefined

interface MadeBench {
  readonly asked: FitAsked
  readonly bench: Bench
  readonly late: number
}

async function benchFor(document: Document, written: Document, trial: string, name: string, from: number, to: number) {
  const part = partsIn(document.trials[trial]!.records)[name]
  const key = JSON.stringify([runHash(document, trial), part, document.parameters, from, to])
  if (lastBench?.key === key) return lastBench.made
  const made = await newBench(document, written, trial, name, from, to)
  lastBench = { key, made }
  return made
}

async function newBench(
  document: Document,
  written: Document,
  trial: string,
  name: string,
  from: number,
  to: number,
): Promise<Outcome<MadeBench>> {
  const found = await recordOf(document, trial, name)
  if (found.kind === 'refused') return found
  const { part, path, table } = found.value
  const findMesh = await standingMeshes(document, trial)
  // what a run shows beside what loops hold is known once its program is made
  const program = compile(document, trial, { findMesh })
  if (program.kind === 'refused') return program
  const measured = measuredOf(table, part, path, signalsOf(document, trial, program.value))
  if (measured.kind === 'refused') return measured
  if (measured.value.signals.size === 0)
    return refusedFor(path, 'No column of the record is a signal yet.', 'Say which signal a column is.')
  const asked: FitAsked = { written, resolved: document, trial, measured: measured.value, from, to }
  const bench = benchOf(asked, findMesh)
  return bench.kind === 'refused' ? bench : done({ asked, bench: bench.value, late: bestLate(bench.value, 0) })
}

/** What an account against a record has to look at, before it does. */
export async function recordPlan(
  document: Document,
  written: Document,
  trial: string,
  name: string,
  from: number,
  to: number,
): Promise<Outcome<{ readonly candidates: number }>> {
  const made = await benchFor(document, written, trial, name, from, to)
  return made.kind === 'refused' ? made : done({ candidates: made.value.bench.candidates.length })
}

export type RankedPiece = readonly (readonly [name: string, column: Float64Array])[]

/** How the run changes with some of the numbers that may be others. */
export async function recordSlopes(
  document: Document,
  written: Document,
  trial: string,
  name: string,
  from: number,
  to: number,
  piece: readonly [first: number, count: number],
): Promise<Outcome<RankedPiece>> {
  const made = await benchFor(document, written, trial, name, from, to)
  if (made.kind === 'refused') return made
  const { bench, late } = made.value
  const of = bench.candidates.slice(piece[0], piece[0] + piece[1])
  return done([...slopesOfCandidates(bench, late, of)])
}

/** The account itself, once it is known how the run changes with every number. */
export async function recordAccounted(
  document: Document,
  written: Document,
  trial: string,
  name: string,
  from: number,
  to: number,
  ranked: RankedPiece,
  said: readonly string[] | undefined,
): Promise<Outcome<RecordAccount>> {
  const made = await benchFor(document, written, trial, name, from, to)
  if (made.kind === 'refused') return made
  return recordAccount(made.value.bench, new Map(ranked), made.value.late, said)
}

/** Which cue would tell two numbers apart that the record shows together. */
export async function recordSeparated(
  document: Document,
  written: Document,
  trial: string,
  name: string,
  from: number,
  to: number,
  pair: readonly [string, string],
  beside: readonly string[],
): Promise<Outcome<Separation>> {
  const made = await benchFor(document, written, trial, name, from, to)
  if (made.kind === 'refused') return made
  const { bench, asked } = made.value
  const find = (one: string) => bench.candidates.find((candidate) => candidate.name === one)
  const [first, other] = pair.map(find)
  if (first === undefined || other === undefined)
    return refusedFor('numbers', `There is no number ${pair.join(' or ')} any more.`, 'Work the account out anew.')
  const rest = beside.flatMap((one) => find(one) ?? [])
  return cuesThatSeparate(asked, bench, [first, other], rest, await standingMeshes(document, trial))
}
