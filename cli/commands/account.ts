import { done, partsIn, refusedFor } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'
import { parseDelimited } from '@calm-hand/core/formats'
import {
  benchOf,
  bestLate,
  likelyLate,
  likelyMapping,
  likelySignals,
  measuredOf,
  recordAccount,
  slopesOfCandidates,
} from '@calm-hand/core/identification'
import type { Measured, RecordAccount } from '@calm-hand/core/identification'
import { compile, endedByChecks, signalsOf, start } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { gapAccount, gapPlan, gapRuns } from '@calm-hand/core/study'
import type { GapAccount, GapPlan } from '@calm-hand/core/study'
import { badFrom, fine } from '../output'
import type { Result } from '../output'
import { readBytes, readProject, trialOf } from '../read'
import type { Project } from '../read'

export interface AccountOptions {
  readonly trial: string
  readonly signal?: string
  readonly from?: string
  readonly to?: string
  readonly against?: string
}

/** account DOC --trial NAME --signal PATH, or --against RECORD.csv */
export async function account(path: string, options: AccountOptions): Promise<Result> {
  const found = readProject(path)
  if (found.kind === 'refused') return badFrom(found)
  const { checked, findMesh } = found.value
  const document = checked.resolved
  const { trial } = options
  const part = trialOf(document, trial)
  if (part.kind === 'refused') return badFrom(part)
  const program = compile(document, trial, { findMesh })
  if (program.kind === 'refused') return badFrom(program)
  const run = start(program.value).run({ trial, layers: [], seed: part.value.seed })
  if (options.against !== undefined) return againstRecord(found.value, run, { ...options, against: options.against })
  const { cues = [], time } = endedByChecks(document, run)
  const plan = gapPlan(document, trial, cues)
  if (plan.kind === 'refused') return badFrom(plan)
  const window = windowOf(options, time.at(-1) ?? 0)
  if (window.kind === 'refused') return badFrom(window)
  const runs = gapRuns(document, trial, cues, plan.value.coalitions, findMesh)
  if (runs.kind === 'refused') return badFrom(runs)
  const signal = options.signal ?? plan.value.signals[0]!.name
  const made = gapAccount(plan.value, runs.value, signal, ...window.value)
  if (made.kind === 'refused') return badFrom(made)
  const value = told(plan.value, made.value)
  return fine(value, JSON.stringify(value, null, 2))
}

/** s: as far a record may be late. */
const latest = 5

/** By which numbers of the machine a record differs from the run: its columns are named as signals are, with their units. */
function againstRecord(
  { checked, findMesh }: Project,
  run: RunRecord,
  { trial, against, ...options }: AccountOptions & { readonly against: string },
): Result {
  const bytes = readBytes(against)
  if (bytes.kind === 'refused') return badFrom(bytes)
  const table = parseDelimited(against, bytes.value)
  if (table.kind === 'refused') return badFrom(table)
  const signals = likelySignals(checked.resolved, trial, signalsOf(checked.resolved, trial, run))
  const wanted = options.signal === undefined ? signals : signals.filter(({ name }) => name === options.signal)
  const part = likelyMapping(table.value, wanted, '')
  if (Object.values(partsIn(part.columns)).every(({ signal }) => signal === undefined))
    return badFrom(
      refusedFor(
        against,
        `None of its columns is named as a signal of this trial: ${table.value.columns.map(({ name }) => name).join(', ')}.`,
        'Name columns as `run --csv` does, such as `loops.height.command [N]`, and give --signal one that is there.',
      ),
    )
  const measured = measuredOf(table.value, part, against, wanted)
  if (measured.kind === 'refused') return badFrom(measured)
  const window = windowOf({ trial, ...options }, run.time.at(-1) ?? 0)
  if (window.kind === 'refused') return badFrom(window)
  const [from, to] = window.value
  const asked = { written: checked.document, resolved: checked.resolved, trial, measured: measured.value, from, to }
  const bench = benchOf(asked, findMesh)
  if (bench.kind === 'refused') return badFrom(bench)
  const late = bestLate(bench.value, likelyLate(measured.value, run, latest)?.late ?? 0)
  const made = recordAccount(bench.value, slopesOfCandidates(bench.value, late, bench.value.candidates), late)
  if (made.kind === 'refused') return badFrom(made)
  const value = toldOfRecord(made.value, measured.value.gaps)
  return fine(value, JSON.stringify(value, null, 2))
}

/** Numbers by their names, with shares of the rms of each signal that add up to 1 with `left`. */
function toldOfRecord({ signals, numbers, late, ...rest }: RecordAccount, gaps: Measured['gaps']) {
  return {
    late,
    gaps,
    signals: Object.fromEntries(
      signals.map(({ name, unit, noise, before, after, look }, s) => [
        name,
        {
          ...{ unit, noise, whole: before, left: after, looks: look.looks },
          ...(look.frequency === undefined ? {} : { frequency: look.frequency }),
          shares: Object.fromEntries(numbers.map((one) => [one.name, one.portions[s]! * before])),
        },
      ]),
    ),
    numbers: Object.fromEntries(
      numbers.map(({ name, label, unit, now, fitted, bound, mates }) => [
        name,
        {
          label,
          unit,
          now,
          fitted,
          bound,
          cannotBeToldFrom: mates.map((mate) => ({ name: mate.name, shows: mate.shows, instead: mate.instead })),
        },
      ]),
    ),
    ...rest,
  }
}

function windowOf({ from, to }: AccountOptions, end: number): Outcome<[from: number, to: number]> {
  const [begin, until] = [from === undefined ? 0 : Number(from), to === undefined ? end : Number(to)]
  if (Number.isFinite(begin) && Number.isFinite(until) && begin < until) return done([begin, until])
  return refusedFor('--from', `The window goes from ${from ?? 0} to ${to ?? end}.`, 'Give two times in s, the earlier one first.')
}

/** Shares and bounds by the name of their cause, in the unit of the signal; `left` is what no cause explains. */
function told({ causes, orders }: GapPlan, { signal, shares, pairs, ...rest }: GapAccount) {
  const bounded = shares.filter(({ bound }) => bound !== undefined)
  return {
    ...{ signal: signal.name, unit: signal.unit, ...rest },
    exact: orders === undefined,
    labels: Object.fromEntries(causes.map(({ name, label }) => [name, label])),
    shares: Object.fromEntries(shares.map(({ cause, share }) => [cause, share])),
    ...(bounded.length === 0 ? {} : { bounds: Object.fromEntries(bounded.map(({ cause, bound }) => [cause, bound])) }),
    pairs: pairs.map(({ causes, interaction }) => ({ causes, interaction })),
  }
}
