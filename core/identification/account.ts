import { done } from '../document'
import type { Outcome } from '../document'
import { log } from '../expression'
import { shapleyShares } from '../study'
import type { Candidate } from './candidates'
import { fitNumbers, sizeOfColumn, squares } from './fit'
import type { Bench, Fit, FitSignal, Values } from './fit'
import { lookOfLeft } from './whiteness'
import type { LeftLook } from './whiteness'

/** How the run changes with each candidate, at the values that the document has. */
export type Ranked = ReadonlyMap<string, Float64Array>

/** The share of a number in the difference of each signal, and what it is then. */
export interface NumberShare {
  readonly name: string
  readonly label: string
  readonly unit: string
  readonly owner: Candidate['owner']
  readonly now: number
  readonly fitted: number
  /** With 95 % it is no farther off, as if what is left were white. */
  readonly bound: number
  /** Of each signal, of the rms of its difference. */
  readonly portions: readonly number[]
  readonly mates: readonly Mate[]
}

/** A number that the record cannot tell from another. */
export interface Mate {
  readonly name: string
  readonly label: string
  readonly shows: 'ratio' | 'product' | 'sum' | 'difference' | 'combination'
  /** What it would have to be in its place. */
  readonly instead: number
}

export interface AccountedSignal extends FitSignal {
  /** rms of record less run, with the numbers of the document and with those that were fitted. */
  readonly before: number
  readonly after: number
  readonly look: LeftLook
}

export interface RecordAccount {
  readonly signals: readonly AccountedSignal[]
  readonly numbers: readonly NumberShare[]
  /** s */
  readonly late: { readonly value: number; readonly bound: number }
  readonly steps: number
  readonly ratio: number
  /** Others that explain something by themselves, best first: the share of the squared difference that each would take away. */
  readonly others: readonly { readonly name: string; readonly label: string; readonly explains: number }[]
  readonly runs: number
}

/** So many numbers are looked for; of more, shares would take too many runs. */
const mostNumbers = 6
/** A number is taken up where it takes away this share of what is left. */
const worthwhile = 0.02
/** A number that takes away less than this of the whole, or of what is left, is not needed. */
const [leastExplained, leastOfLeft] = [5e-4, 0.01]
/** Of itself: a number that would have to change by more is not what was wrong. */
const mostChange = 4
/** Columns whose cosine is nearer to 1 than this are one to the record. */
const alike = 1e-3
/** Relative: how near to 1 a ratio of slopes must be for a name. */
const nearOne = 0.03
const mostMates = 6
const mostOthers = 8

/** How the residual changes with some candidates; what a run does not depend on is left out. */
export function slopesOfCandidates(bench: Bench, late: number, of: readonly Candidate[]): Ranked {
  const made = of.length === 0 ? undefined : bench.slopes(new Map(), late, of)
  return new Map(
    (made?.columns ?? []).flatMap((column, i) => {
      const isSilent =
        !(sizeOfColumn(column) * (Math.abs(of[i]!.value) || 1) > 1e-9) ||
        !column.every((value) => Math.abs(value) < Infinity || Number.isNaN(value))
      return isSilent ? [] : [[of[i]!.name, column] as const]
    }),
  )
}

/**
 * The account of the difference between a measured record and the simulation, by numbers that may be others: those said, or
 * those that explain most, taken up one after the other as long as each takes away what is worth it. Their shares are Shapley
 * values of the rms, over runs of every coalition; with what is left they add up to the whole.
 */
export function recordAccount(bench: Bench, ranked: Ranked, late: number, said?: readonly string[]): Outcome<RecordAccount> {
  const byName = new Map(bench.candidates.map((one) => [one.name, one]))
  const base = bench.slopes(new Map(), late, [])!
  const saidHere = said?.filter((name) => byName.has(name))
  const first = (saidHere ?? mostTelling(bench, ranked, base.residual, base.late)).map((name) => byName.get(name)!)
  const fit = saidHere === undefined ? fittedByFew(bench, ranked, first, late) : fitNumbers(bench, first, late)
  if (fit.kind === 'refused') return fit
  const { numbers, late: shift } = fit.value
  const chosen = numbers.map(({ candidate }) => candidate)
  let runs = 0
  const differences = new Map<number, readonly number[]>()
  const rmsOf = (coalition: number) => {
    const values: Values = new Map(
      numbers.flatMap(({ candidate, value }, i) => ((coalition & (1 << i)) === 0 ? [] : [[candidate.name, value]])),
    )
    const known = differences.get(coalition)
    if (known !== undefined) return known
    runs++
    const residual = bench.residual(values, shift.value)
    const made = residual === undefined ? bench.signals.map(() => NaN) : rmsOfSignals(bench, residual)
    differences.set(coalition, made)
    return made
  }
  const all = 2 ** numbers.length - 1
  const shares = bench.signals.map((_, s) => shapleyShares(numbers.length, (coalition) => -rmsOf(coalition)[s]!).shares)
  const [before, after] = [rmsOf(0), rmsOf(all)]
  const final = bench.residual(new Map(numbers.map(({ candidate, value }) => [candidate.name, value])), shift.value)!
  return done({
    signals: bench.signals.map((signal, s) => ({
      ...signal,
      ...{ before: before[s]!, after: after[s]! },
      look: lookOfLeft(partOfSignal(bench, final, s), bench.rate),
    })),
    numbers: numbers.map(({ candidate, value, bound }, i) => ({
      ...{ name: candidate.name, label: candidate.label, unit: candidate.unit, owner: candidate.owner },
      ...{ now: candidate.value, fitted: value, bound },
      portions: shares.map((of, s) => of[i]! / (before[s]! || 1)),
      mates: matesOf(candidate, value, ranked, byName, chosen),
    })),
    ...{ late: shift, steps: fit.value.steps, ratio: fit.value.ratio, runs },
    others: othersOf(ranked, byName, chosen, final, base.late),
  })
}

/**
 * Numbers were taken up by slopes where the document has them: what a larger change bends may have called for more of them. Those
 * do without which the fit explains as much are let go again, the least telling first.
 */
function fittedByFew(bench: Bench, ranked: Ranked, first: readonly Candidate[], late: number): Outcome<Fit> {
  let fit = fitNumbers(bench, first, late)
  const whole = squares(bench.residual(new Map(), late) ?? new Float64Array(0))
  const leftOf = ({ numbers, late: shift }: Fit) =>
    squares(bench.residual(new Map(numbers.map(({ candidate, value }) => [candidate.name, value])), shift.value)!)
  while (fit.kind === 'done' && fit.value.numbers.length > 1) {
    const { numbers } = fit.value
    const tells = ({ candidate, value }: Fit['numbers'][number]) =>
      Math.abs(value - candidate.value) * sizeOfColumn(ranked.get(candidate.name)!)
    const least = numbers.reduce((one, other) => (tells(other) < tells(one) ? other : one))
    const fewer = fitNumbers(
      bench,
      numbers.flatMap((one) => (one === least ? [] : [one.candidate])),
      late,
    )
    const now = leftOf(fit.value)
    if (fewer.kind === 'refused' || leftOf(fewer.value) > now + Math.max(leastExplained * whole, leastOfLeft * now)) return fit
    fit = fewer
  }
  return fit
}

/** Numbers that explain most of a residual, one after the other, each what those before leave. */
function mostTelling(bench: Bench, ranked: Ranked, residual: Float64Array, late: Float64Array): readonly string[] {
  const byName = new Map(bench.candidates.map((one) => [one.name, one]))
  const whole = squares(residual)
  let left = without(residual, late)
  let columns = [...ranked].map(([name, column]) => ({ name, column: without(column, late), size: sizeOfColumn(column) }))
  const chosen: string[] = []
  const rows = residual.reduce((sum, value) => sum + (Number.isNaN(value) ? 0 : 1), 0)
  while (chosen.length < mostNumbers) {
    const before = squares(left)
    // what those before have already explained of a number is rounding
    const open = columns.filter(
      ({ name, column, size }) => sizeOfColumn(column) > 0.02 * size && changeOf({ name, column }, left, byName) < mostChange,
    )
    const gains = open.map(({ column }) => along(left, column) ** 2 * squares(column))
    const best = gains.reduce((most, gain) => Math.max(most, gain), 0)
    // below that it may be chance: of so many numbers one explains as much of pure noise
    if (best < worthwhile * before || best < 0.001 * whole || best < (before / rows) * 4 * log(rows)) break
    const near = open.filter((_, i) => gains[i]! > (1 - alike) * best)
    const taken = near.reduce((one, other) => (changeOf(other, left, byName) < changeOf(one, left, byName) ? other : one))
    chosen.push(taken.name)
    left = without(left, taken.column)
    columns = columns
      .filter(({ name }) => name !== taken.name)
      .map((one) => ({ ...one, column: without(one.column, taken.column) }))
  }
  return chosen
}

/** How much of itself a number would have to change; parameters, which say what belongs together, before single numbers. */
function changeOf(
  { name, column }: { readonly name: string; readonly column: Float64Array },
  left: Float64Array,
  byName: ReadonlyMap<string, Candidate>,
): number {
  const { value, owner } = byName.get(name)!
  const change = Math.abs(along(left, column)) / (Math.abs(value) || 1e-9)
  return owner === 'parameter' ? change : 1.5 * change
}

/** Numbers whose effect is that of a chosen one. */
function matesOf(
  candidate: Candidate,
  fitted: number,
  ranked: Ranked,
  byName: ReadonlyMap<string, Candidate>,
  chosen: readonly Candidate[],
): readonly Mate[] {
  const own = ranked.get(candidate.name)
  if (own === undefined) return []
  const mates = [...ranked].flatMap(([name, column]): (Mate & { readonly change: number })[] => {
    const other = byName.get(name)!
    if (name === candidate.name || chosen.includes(other)) return []
    const ratio = along(own, column)
    if (Math.abs((ratio * sizeOfColumn(column)) / sizeOfColumn(own)) < 1 - alike) return []
    const relative = (ratio * candidate.value) / other.value
    const shows =
      Math.abs(relative + 1) < nearOne
        ? 'ratio'
        : Math.abs(relative - 1) < nearOne
          ? 'product'
          : candidate.unit === other.unit && Math.abs(ratio - 1) < nearOne
            ? 'sum'
            : candidate.unit === other.unit && Math.abs(ratio + 1) < nearOne
              ? 'difference'
              : 'combination'
    const by = (fitted - candidate.value) * ratio
    const instead =
      shows === 'ratio'
        ? (other.value * candidate.value) / fitted
        : shows === 'product'
          ? (other.value * fitted) / candidate.value
          : other.value + by
    // what would have to turn its sign is not what was wrong
    if (instead * other.value <= 0) return []
    return [{ name, label: other.label, shows, instead, change: Math.abs(by) / (Math.abs(other.value) || 1e-9) }]
  })
  return [...mates]
    .sort((a, b) => a.change - b.change)
    .slice(0, mostMates)
    .map(({ change: _change, ...mate }) => mate)
}

function othersOf(
  ranked: Ranked,
  byName: ReadonlyMap<string, Candidate>,
  chosen: readonly Candidate[],
  left: Float64Array,
  late: Float64Array,
) {
  const taken = chosen.flatMap(({ name }) => ranked.get(name) ?? [])
  const basis = [late, ...taken].reduce<Float64Array[]>((all, column) => [...all, all.reduce(without, column)], [])
  const whole = squares(left)
  return [...ranked]
    .flatMap(([name, column]) => {
      if (chosen.some((one) => one.name === name)) return []
      const own = basis.reduce(without, column)
      if (sizeOfColumn(own) < 0.02 * sizeOfColumn(column)) return []
      return [{ name, label: byName.get(name)!.label, explains: (along(left, own) ** 2 * squares(own)) / whole }]
    })
    .sort((a, b) => b.explains - a.explains)
    .slice(0, mostOthers)
}

/** How many times a column is in another, by least squares. */
function along(of: Float64Array, column: Float64Array): number {
  let [product, size] = [0, 0]
  for (let k = 0; k < of.length; k++) {
    const [a, b] = [of[k]!, column[k]!]
    if (Number.isNaN(a) || Number.isNaN(b)) continue
    product += a * b
    size += b * b
  }
  return size === 0 ? 0 : product / size
}

/** What is left of a column without its part along another. */
function without(of: Float64Array, column: Float64Array): Float64Array {
  const times = along(of, column)
  return of.map((value, k) => value - times * (Number.isNaN(column[k]!) ? 0 : column[k]!))
}

function partOfSignal({ signals }: Bench, residual: Float64Array, s: number): Float64Array {
  const each = residual.length / signals.length
  return residual.subarray(s * each, (s + 1) * each).map((value) => value * signals[s]!.noise)
}

function rmsOfSignals(bench: Bench, residual: Float64Array): readonly number[] {
  return bench.signals.map((_, s) => {
    const part = partOfSignal(bench, residual, s)
    return Math.sqrt(squares(part) / part.reduce((sum, value) => sum + (Number.isNaN(value) ? 0 : 1), 0))
  })
}
