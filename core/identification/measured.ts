import { wrapped } from '../algebra'
import { done, partsIn, refused, refusedFor } from '../document'
import type { Document, Outcome, Part, Problem } from '../document'
import { partOf, sizeIn } from '../kinds'
import { columnHead, findColumn, mappedColumn, measuredRecord } from '../simulation'
import type { Record as RunRecord, RunSignal } from '../simulation'
import { correlationOf } from './correlation'
import type { Correlation } from './correlation'
import { isOfWords } from './table'
import type { MeasuredTable, TableColumn } from './table'

/** A measured record on the clock of its trial, in SI. */
export interface Measured {
  /** s, rising; nothing else is said of its rate. */
  readonly time: Float64Array
  /** By the name of the signal; not a number where a row tells nothing of it. */
  readonly signals: ReadonlyMap<string, Float64Array>
  /** What columns of words say, by the column: from when on, until when, which word. */
  readonly lanes: ReadonlyMap<string, readonly Spell[]>
  /** s, from where until where no rows are. */
  readonly gaps: readonly (readonly [from: number, to: number])[]
  /** s between rows, as a rule. */
  readonly step: number
  /** What was odd, and how it was taken. */
  readonly cautions: readonly Problem[]
}

export interface Spell {
  readonly word: string
  readonly from: number
  readonly to: number
}

/** Between rows this many times as far apart as the others is a gap. */
const gapSteps = 4

/** s: a clock that begins later than this, or before 0 by as much, is that of the day, and counts from its first row. */
const latestStart = 3600

/** A unit that may carry a factor: "cm", or "0.57 N" where a unit of the column is 0.57 N. Its size in another unit. */
export function unitSize(text: string, si: string): number | undefined {
  const [, factor = '', unit = ''] = /^\s*([-+]?[\d.]+(?:e[-+]?\d+)?)?\s*(.*?)\s*$/i.exec(text) ?? []
  const times = factor === '' ? 1 : Number(factor)
  const size = unit === si || (unit === '' && si === '') ? 1 : sizeIn(unit === '' ? '1' : unit, si === '' ? '1' : si)
  return size === undefined || !Number.isFinite(times) || times === 0 ? undefined : times * size
}

/** The record of a table, as its part of the trial says: columns by their signals, in SI, without rows that have no time. */
export function measuredOf(table: MeasuredTable, part: Part, path: string, signals: readonly RunSignal[]): Outcome<Measured> {
  const { time: timeName, timeUnit, late } = partOf(measuredRecord, part)
  const problems: Problem[] = []
  const columnOf = (name: string, where: string): TableColumn | undefined => {
    const found = table.columns.find((one) => one.name === name)
    const known = table.columns.map((one) => one.name).join(', ')
    if (found === undefined) problems.push({ where, what: `The file has no column ${name}.`, remedy: `It has ${known}.` })
    return found
  }
  const clock = columnOf(timeName, `${path}.time`)
  const second = unitSize(timeUnit, 's')
  if (second === undefined)
    problems.push({ where: `${path}.timeUnit`, what: `${timeUnit} is no unit of time.`, remedy: 'Give s, ms, µs, min or h.' })
  if (clock === undefined || second === undefined) return refused(problems)
  if (isOfWords(clock))
    return refusedFor(`${path}.time`, `The column ${timeName} holds words, not times.`, 'Choose the column that tells the time.')
  const cautions: Problem[] = []
  const rows = risingRows(clock.values, (back) => cautions.push(timeGoesBack(path, back)))
  if (rows.length < 2)
    return refusedFor(
      `${path}.time`,
      `The column ${timeName} has no two times that rise.`,
      'Choose the column that tells the time.',
    )
  const first = clock.values[rows[0]!]! * second
  const begins = Math.abs(first) > latestStart ? first : 0
  const time = Float64Array.from(rows, (row) => clock.values[row]! * second - begins - late)
  const [found, lanes] = [new Map<string, Float64Array>(), new Map<string, readonly Spell[]>()]
  for (const [key, one] of Object.entries(partsIn(part.columns))) {
    const { column: name, signal: signalName = '', unit = '', sign } = partOf(mappedColumn, one)
    const where = `${path}.columns.${key}`
    const column = columnOf(name, `${where}.column`)
    if (column === undefined) continue
    if (isOfWords(column)) {
      lanes.set(name, spells(column, rows, time))
      continue
    }
    const signal = signals.find((other) => other.name === signalName)
    if (signal === undefined) {
      problems.push({
        where: `${where}.signal`,
        what: `This trial has no signal ${signalName}.`,
        remedy: 'Choose another, or leave the column out.',
      })
      continue
    }
    const size = unitSize(unit, signal.unit)
    if (size === undefined) {
      const what = `${name} is told in ${unit === '' ? 'no unit' : unit}, which does not measure ${signal.label}, ${signal.unit === '' ? 'a plain number' : signal.unit}.`
      problems.push({
        where: `${where}.unit`,
        what,
        remedy: `Give a unit of the same kind, with a factor where needed: 0.57 ${signal.unit}.`,
      })
      continue
    }
    const factor = sign === 'minus' ? -size : size
    found.set(
      signalName,
      Float64Array.from(rows, (row) => finite(column.values[row]! * factor)),
    )
  }
  if (problems.length > 0) return refused(problems)
  const steps = Array.from(time.subarray(1), (t, k) => t - time[k]!)
  const step = [...steps].sort((a, b) => a - b)[Math.floor(steps.length / 2)]!
  const gaps = steps.flatMap((long, k) => (long > gapSteps * step ? [[time[k]!, time[k + 1]!] as const] : []))
  return done({ time, signals: found, lanes, gaps, step, cautions })
}

function finite(value: number): number {
  return Number.isFinite(value) ? value : NaN
}

interface GoesBack {
  readonly row: number
  readonly count: number
}

/** Rows whose time is a number and later than all before. */
function risingRows(values: Float64Array, tell: (back: GoesBack) => void): number[] {
  const rows: number[] = []
  let [latest, first, count] = [-Infinity, -1, 0]
  for (let row = 0; row < values.length; row++) {
    const value = values[row]!
    if (value > latest && Number.isFinite(value)) {
      rows.push(row)
      latest = value
    } else if (!Number.isNaN(value)) {
      if (count++ === 0) first = row
    }
  }
  if (count > 0) tell({ row: first, count })
  return rows
}

function timeGoesBack(path: string, { row, count }: GoesBack): Problem {
  return {
    where: `${path}.time`,
    what: `In row ${row + 1} time does not go on: ${count === 1 ? 'that row is' : `${count} rows are`} left out.`,
    remedy: 'If two records were put one after the other, give them as two files.',
  }
}

/** From when until when each word stood. */
function spells({ texts }: TableColumn, rows: readonly number[], time: Float64Array): readonly Spell[] {
  const found: { word: string; from: number; to: number }[] = []
  rows.forEach((row, k) => {
    const place = texts!.places[row]!
    const word = place < 0 ? '' : texts!.words[place]!
    const last = found.at(-1)
    if (last?.word === word) last.to = time[k]!
    else {
      if (last !== undefined) last.to = time[k]!
      found.push({ word, from: time[k]!, to: time[k]! })
    }
  })
  return found.filter(({ word }) => word !== '')
}

/** The rows of a signal that tell something of it. */
export function knownRows(
  time: Float64Array,
  values: Float64Array,
): { readonly time: Float64Array; readonly values: Float64Array } {
  const isKnown = (_: number, k: number) => !Number.isNaN(values[k]!)
  return { time: time.filter(isKnown), values: values.filter(isKnown) }
}

/** A run at some times, along straight lines between its rows; not a number outside of it. */
export function runAt(record: Pick<RunRecord, 'time'>, values: ArrayLike<number>, times: Float64Array): Float64Array {
  const { time } = record
  const [step, last] = [time.length > 1 ? time[1]! - time[0]! : 1, time.length - 1]
  return times.map((t) => {
    const place = t / step
    if (!(place >= -1e-9 && place <= last + 1e-9)) return NaN
    const before = Math.min(Math.max(0, Math.floor(place)), Math.max(0, last - 1))
    const [one, next] = [values[before]!, values[Math.min(last, before + 1)]!]
    return one + (place - before) * (next - one)
  })
}

/** A measured signal less that of a run, at the times of the record; not a number where one of them tells nothing. */
export function recordLess(measured: Measured, record: RunRecord, signal: string): Float64Array | undefined {
  const [told, values] = [measured.signals.get(signal), findColumn(record, signal)]
  if (told === undefined || values === undefined) return undefined
  const column = record.columns.find(({ name }) => name === signal)
  const simulated = runAt(record, values, measured.time)
  return told.map((value, k) => {
    return shortWay(value - simulated[k]!, column?.angle === 'goesRound')
  })
}

/** A difference: of angles that go round the short way. */
export function shortWay(difference: number, goesRound: boolean): number {
  return goesRound ? (wrapped(difference) as number) : difference
}

/** Samples a second for which a shift is looked for: more would show nothing more. */
const mostShiftRate = 200

/**
 * By how much a record is late against a run: where the rates of a signal of both are most alike. Their rates, since what both
 * hold still for long tells no time. `undefined` where nothing of it moves.
 */
export function shiftBetween(measured: Measured, record: RunRecord, signal: string, most: number): Correlation | undefined {
  const [told, values] = [measured.signals.get(signal), findColumn(record, signal)]
  if (told === undefined || values === undefined || record.time.length < 3) return undefined
  const rate = Math.min(mostShiftRate, 1 / measured.step)
  const end = Math.max(record.time.at(-1)!, measured.time.at(-1)!)
  const begin = Math.min(0, measured.time[0]!)
  const times = Float64Array.from({ length: Math.floor((end - begin) * rate) + 1 }, (_, k) => begin + k / rate)
  const simulated = filledOut(runAt(record, values, times))
  const known = knownRows(measured.time, told)
  if (known.time.length < 3) return undefined
  const along = filledOut(times.map((t) => between(known.time, known.values, t)))
  const wide = Math.max(1, Math.round((smoothShare * (end - begin) * rate) / 2))
  const ratesOf = (values: Float64Array) => tapered(slopesOf(smoothed(values, wide)))
  return correlationOf(ratesOf(simulated), ratesOf(along), rate, most)
}

/** Of the whole, at either end: what goes on at an end must not look like a jump there, which would say that nothing is late. */
const taperShare = 0.1

/** About its mean, and faded in and out. */
function tapered(values: Float64Array): Float64Array {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length
  const edge = Math.max(1, taperShare * values.length)
  return values.map((value, k) => {
    const share = Math.min(1, (k + 0.5) / edge, (values.length - k - 0.5) / edge)
    return (value - mean) * share * share * (3 - 2 * share)
  })
}

/** Of the whole: over so much of it a mean is taken, since from row to row the rate of a record is that of its noise. */
const smoothShare = 0.03

/** Means over `wide` samples to both sides, as far as there are so many. */
function smoothed(values: Float64Array, wide: number): Float64Array {
  const sums = new Float64Array(values.length + 1)
  for (let k = 0; k < values.length; k++) sums[k + 1] = sums[k]! + values[k]!
  return values.map((_, k) => {
    const [from, to] = [Math.max(0, k - wide), Math.min(values.length, k + wide + 1)]
    return (sums[to]! - sums[from]!) / (to - from)
  })
}

/** A record as a run of its trial, at the times of another: what checks judge. Over gaps it goes straight. */
export function asRun(
  { time: at, signals }: Measured,
  { time, columns }: Pick<RunRecord, 'time' | 'columns'>,
): Pick<RunRecord, 'time' | 'columns' | 'ending'> {
  const end = at.at(-1)!
  const inside = time.filter((t) => t <= end + 1e-9)
  const isWhole = inside.length === time.length
  return {
    time: inside,
    ending: { kind: isWhole ? 'finished' : 'stopped' },
    columns: columns.flatMap((column) => {
      const told = signals.get(column.name)
      if (told === undefined) return []
      const known = knownRows(at, told)
      if (known.time.length === 0) return []
      const values = filledOut(inside.map((t) => between(known.time, known.values, t)))
      return [{ ...columnHead(column), values }]
    }),
  }
}

/** Below this likeness of two courses nothing is said of their shift. */
const leastLikeness = 0.5
/** s: as far to both sides of a guess a shift is looked for again, and how finely. */
const lateReach = 0.25
const finestLate = 1e-4

/** How late a record is likely to be, and the signal whose rates are most like those of the run: nothing where none is. */
export interface LikelyLate {
  readonly signal: string
  readonly found: Correlation
  /** s: where all signals differ least, but for what they are off all the time. */
  readonly late: number
}

export function likelyLate(measured: Measured, record: RunRecord, most: number): LikelyLate | undefined {
  const all = [...measured.signals.keys()].flatMap((signal) => {
    const found = shiftBetween(measured, record, signal, most)
    return found === undefined || found.best.value < leastLikeness ? [] : [{ signal, found }]
  })
  const best = all.reduce<(typeof all)[number] | undefined>(
    (most, one) => (most === undefined || one.found.best.value > most.found.best.value ? one : most),
    undefined,
  )
  if (best === undefined) return undefined
  const sizes = new Map([...measured.signals].map(([signal, values]) => [signal, noiseOf(values)]))
  const apart = (late: number) =>
    [...sizes].reduce((sum, [signal, size]) => {
      const difference = recordLess({ ...measured, time: measured.time.map((t) => t - late) }, record, signal)
      return difference === undefined ? sum : sum + varianceOf(difference) / (size * size)
    }, 0)
  return { ...best, late: leastLate(apart, best.found.best.lag, 1 / measured.step, 4 * lateReach) }
}

/**
 * The shift near a guess that costs least. Jumps of what is held from sample to sample make many small valleys, so it is looked
 * everywhere before the best is made finer.
 */
export function leastLate(cost: (late: number) => number, guess: number, rate: number, far = lateReach): number {
  let [best, step] = [guess, 1 / Math.max(rate, 50)]
  for (let reach = far; step > finestLate; reach = step, step /= 5) {
    const half = Math.ceil(reach / step)
    // the guess itself comes first: of shifts that change nothing it stands
    const around = [0, ...Array.from({ length: half }, (_, i) => [i + 1, -i - 1]).flat()].map((i) => best + i * step)
    const costs = around.map(cost)
    best = around[costs.reduce((least, value, i) => (value < costs[least]! ? i : least), 0)]!
  }
  return best
}

function varianceOf(values: Float64Array): number {
  let [count, sum, squares] = [0, 0, 0]
  for (const value of values) {
    if (Number.isNaN(value)) continue
    count++
    sum += value
    squares += value * value
  }
  return count === 0 ? Infinity : squares / count - (sum / count) ** 2
}

/** Of second differences of white noise the variance is six times its own; their median keeps jumps out. */
const ofSecondDifferences = 1.4826 / Math.sqrt(6)
/** Of what a signal moves through: what tells it cannot be finer. */
const finest = 1e-6

/** Standard deviation of the noise of a signal, from how it scatters about straight lines from row to row. */
export function noiseOf(values: Float64Array): number {
  const known = values.filter((value) => !Number.isNaN(value))
  const bends = Float64Array.from({ length: Math.max(0, known.length - 2) }, (_, k) =>
    Math.abs(known[k]! - 2 * known[k + 1]! + known[k + 2]!),
  ).sort()
  let [least, most] = [Infinity, -Infinity]
  for (const value of known) {
    if (value < least) least = value
    if (value > most) most = value
  }
  const median = bends[Math.floor(bends.length / 2)] ?? 0
  return Math.max(ofSecondDifferences * median, finest * Math.max(most - least, Math.abs(most), 1e-9))
}

/** What is not known is as it was before, or will be first. */
function filledOut(values: Float64Array): Float64Array {
  let last = values.find((value) => !Number.isNaN(value)) ?? 0
  return values.map((value) => (last = Number.isNaN(value) ? last : value))
}

function slopesOf(values: Float64Array): Float64Array {
  return Float64Array.from({ length: values.length - 1 }, (_, k) => values[k + 1]! - values[k]!)
}

/** Along straight lines between points; not a number outside of them. */
function between(at: Float64Array, values: Float64Array, t: number): number {
  if (t < at[0]! || t > at.at(-1)!) return NaN
  let [low, high] = [0, at.length - 1]
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (at[middle]! <= t) low = middle
    else high = middle
  }
  const span = at[high]! - at[low]!
  return span === 0 ? values[low]! : values[low]! + ((t - at[low]!) / span) * (values[high]! - values[low]!)
}

/** Beyond this ratio of how far both move, a unit is likely to be another. */
const unlikely = 20

/** Units that do not fit: a record that moves far more, or far less, than the run says. */
export function unitCautions(measured: Measured, record: RunRecord, path: string, part: Part): readonly Problem[] {
  return Object.entries(partsIn(part.columns)).flatMap(([key, one]): Problem[] => {
    const { column, signal = '', unit = '' } = partOf(mappedColumn, one)
    const [told, values] = [measured.signals.get(signal), findColumn(record, signal)]
    if (told === undefined || values === undefined) return []
    const [theirs, ours] = [largest(told), largest(values)]
    if (theirs === 0 || ours === 0 || (theirs / ours < unlikely && ours / theirs < unlikely)) return []
    const here = record.columns.find(({ name }) => name === signal)!
    const number = (value: number) => Number(value.toPrecision(3))
    return [
      {
        where: `${path}.columns.${key}.unit`,
        what: `Is ${column} in ${unit}? It reaches ${number(theirs)} ${here.unit}, and the run ${number(ours)} ${here.unit}.`,
        remedy: `Give its unit, or what one of it is, such as 0.57 ${here.unit}.`,
      },
    ]
  })
}

function largest(values: Float64Array): number {
  return values.reduce((most, value) => (Math.abs(value) > most ? Math.abs(value) : most), 0)
}

/** So many columns are taken for signals by themselves: of a file that tells everything the rest is said by a person. */
const mostLikely = 6

/** Signals of a trial in the order in which a record is likely to be about them: what loops hold, what they command, all else. */
export function likelySignals(document: Document, trial: string, signals: readonly RunSignal[]): readonly RunSignal[] {
  const { machine } = document.trials[trial]!
  const loops = Object.entries(document.loops).filter(([, loop]) => loop.machine === machine)
  const first = new Map(
    [...loops.map(([, { holds }]) => `${machine}.${holds}`), ...loops.map(([name]) => `loops.${name}.command`)].map((name, i) => [
      name,
      i,
    ]),
  )
  const rank = ({ name }: RunSignal) => first.get(name) ?? first.size
  return [...signals].sort((a, b) => rank(a) - rank(b))
}

/**
 * What the columns of a table are likely to be: by names that are, or end like, those of signals, with units in brackets as
 * `run --csv` writes them. Columns that nothing is known of are left out; of many those of the signals that come first are taken.
 */
export function likelyMapping(table: MeasuredTable, signals: readonly RunSignal[], data: string): Part {
  const headed = table.columns.map((column) => {
    const [, name = column.name, unit = ''] = /^(.*?)\s*[[(]\s*([^\])]*?)\s*[\])]\s*$/.exec(column.name) ?? []
    return { column, name: name.trim(), unit }
  })
  const clock =
    headed.find(
      ({ column, name }) => !isOfWords(column) && /^(t|time|zeit|seconds?|t_?(s|ms|us)|time_?(s|ms|us))$/i.test(name),
    ) ?? headed.find(({ column }) => !isOfWords(column))
  const timeUnit = clock === undefined ? 's' : timeUnitOf(clock.name, clock.unit)
  const taken = new Set<string>()
  const columns = headed.flatMap(({ column, name, unit }): Part[] => {
    if (column === clock?.column) return []
    const found = isOfWords(column) ? undefined : signalNamed(name, signals, taken)
    if (found === undefined && !isOfWords(column)) return []
    if (found !== undefined) taken.add(found.name)
    const fitting = found !== undefined && unitSize(unit, found.unit) !== undefined && unit !== ''
    return [
      {
        kind: mappedColumn.name,
        column: column.name,
        ...(found === undefined ? {} : { signal: found.name, unit: fitting ? unit : found.unit, sign: 'plus' }),
      },
    ]
  })
  const order = new Map(signals.map(({ name }, i) => [name, i]))
  const rank = ({ signal }: Part) => order.get(String(signal)) ?? -1
  const kept = new Set(
    [...columns]
      .sort((a, b) => rank(a) - rank(b))
      .slice(0, mostLikely + columns.filter(({ signal }) => signal === undefined).length),
  )
  return {
    kind: measuredRecord.name,
    ...{ file: table.file, data, time: clock?.column.name ?? '', timeUnit, late: 0 },
    columns: Object.fromEntries(columns.filter((column) => kept.has(column)).map((column, i) => [`c${i + 1}`, column])),
  }
}

function timeUnitOf(name: string, unit: string): string {
  if (unit !== '' && unitSize(unit, 's') !== undefined) return unit
  const ending = /_?(ms|us|s)$/i.exec(name)?.[1]?.toLowerCase()
  return ending === 'ms' ? 'ms' : ending === 'us' ? 'µs' : 's'
}

function signalNamed(name: string, signals: readonly RunSignal[], taken: ReadonlySet<string>): RunSignal | undefined {
  const free = signals.filter((one) => !taken.has(one.name))
  const plain = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, '')
  const wanted = plain(name)
  if (wanted === '') return undefined
  return (
    free.find((one) => one.name === name) ??
    free.find((one) => plain(one.label) === wanted) ??
    free.find((one) => plain(one.name.split('.').at(-1)!) === wanted)
  )
}
