import { done, refusedFor } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'
import { compile, endedByChecks, start } from '@calm-hand/core/simulation'
import { gapAccount, gapPlan, gapRuns } from '@calm-hand/core/study'
import type { GapAccount, GapPlan } from '@calm-hand/core/study'
import { badFrom, fine } from '../output'
import type { Result } from '../output'
import { readProject, trialOf } from '../read'

export interface AccountOptions {
  readonly trial: string
  readonly signal?: string
  readonly from?: string
  readonly to?: string
}

/** account DOC --trial NAME --signal PATH */
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
