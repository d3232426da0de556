import { partsIn } from '../document'
import type { Document } from '../document'
import { findKind } from '../kinds'
import { checks } from './checks'
import type { CalmBand, Judgement, Looked } from './checks'
import { cues } from './cues'
import { referenceOf } from './figures'
import { asItCame } from './asItCame'
import { leastOfColumn } from './record'
import type { Record } from './record'
import { signalValues, signalsOf } from './signals'

/** What a run says of one check of its trial. */
export interface Verdict extends Judgement {
  /** Key of the check in its trial. */
  readonly check: string
}

/** The part of a record that is judged. */
export type JudgedRun = Pick<Record, 'time' | 'columns' | 'ending' | 'cues'>

/**
 * Every check of a trial over a run of it, in their order. What ends early leaves those open that had not failed by then: a
 * check holds only where the run came to its end.
 */
export function verdictsOf(document: Document, trialName: string, record: JudgedRun): readonly Verdict[] {
  const run = lookedAt(document, trialName, record)
  return Object.entries(partsIn(document.trials[trialName]!.checks)).flatMap(([check, part]) => {
    const kind = findKind(checks, part)
    return kind === undefined ? [] : [{ check, ...asFarAs(record, kind.judge(part, run)) }]
  })
}

export interface CheckCount {
  readonly held: number
  readonly failed: number
  readonly all: number
}

/** How many checks hold and fail, and of how many. */
export function countOf(verdicts: readonly Pick<Verdict, 'outcome'>[]): CheckCount {
  const of = (outcome: Verdict['outcome']) => verdicts.filter((one) => one.outcome === outcome).length
  return { held: of('holds'), failed: of('fails'), all: verdicts.length }
}

/** Bands of the checks of a trial, with the check that each belongs to. */
export function calmBands(document: Document, trialName: string): readonly (CalmBand & { readonly check: string })[] {
  return Object.entries(partsIn(document.trials[trialName]!.checks)).flatMap(([check, part]) => {
    const band = findKind(checks, part)?.band?.(part)
    return band === undefined ? [] : [{ check, ...band }]
  })
}

function asFarAs({ ending, time }: JudgedRun, found: Judgement): Judgement {
  if (ending.kind === 'finished' || (found.outcome !== 'holds' && found.isShort === undefined)) return found
  if (ending.kind === 'goesOn')
    return { ...found, outcome: 'open', ...(found.isShort === undefined ? {} : { why: 'Too early for this.' }) }
  const end = (ending.kind === 'ended' ? ending.at : (time.at(-1) ?? 0)).toFixed(2)
  const how = ending.kind === 'ended' ? `A check ended the run at ${end} s` : `The run broke off at ${end} s`
  return {
    ...found,
    outcome: 'open',
    why: found.outcome === 'holds' ? `${how}; until then it held.` : `${how}, too early for this.`,
  }
}

function lookedAt(document: Document, trialName: string, record: JudgedRun): Looked {
  const { machine } = document.trials[trialName]!
  const units = new Map(signalsOf(document, trialName, record).map(({ name, unit }) => [name, unit]))
  return {
    time: record.time,
    // a condition may leave the name of the machine out
    values: (signal) => signalValues(document, record, signal) ?? signalValues(document, record, `${machine}.${signal}`),
    least: (signal, row, below) => leastOfColumn(record, signal, row, below),
    unitOf: (signal) => units.get(signal) ?? units.get(`${machine}.${signal}`) ?? '',
    lastCue: (loop) => lastCueOf(asItCame(document, trialName, record.cues), trialName, loop, record.time.at(-1) ?? 0),
  }
}

function lastCueOf(document: Document, trialName: string, loop: string, end: number) {
  if (document.loops[loop] === undefined) return undefined
  const times = Object.values(partsIn(document.trials[trialName]!.cues)).flatMap((cue) =>
    cue.loop === loop && cue.waits === undefined && findKind(cues, cue)?.switchesTo === undefined ? [cue.at as number] : [],
  )
  if (times.length === 0) return undefined
  const at = Math.max(...times)
  const reference = referenceOf(document, trialName, loop)
  return { at, before: reference(at - 1e-9), after: reference(Math.max(end, at)) }
}

/** The run, which ends where a check that may end it first fails: at its end it has ended anyway. */
export function endedByChecks(document: Document, record: Record): Record {
  const parts = partsIn(document.trials[record.trial]!.checks)
  const end = record.time.at(-1) ?? 0
  const failed = verdictsOf(document, record.trial, record).filter(
    ({ check, failedAt = end }) => failedAt < end && parts[check]!.ends === 'ends',
  )
  if (failed.length === 0) return record
  const first = failed.reduce((a, b) => (b.failedAt! < a.failedAt! ? b : a))
  const last = record.time.findIndex((t) => t >= first.failedAt!)
  const time = record.time.slice(0, last + 1)
  const ending = { kind: 'ended', at: first.failedAt!, check: first.check } as const
  const come = (at: number | undefined, name: string) => (at === undefined || at > ending.at ? {} : { [name]: at })
  return {
    ...record,
    ...{ time, ending },
    ...(record.cues === undefined
      ? {}
      : { cues: record.cues.map(({ cue, began, over }) => ({ cue, ...come(began, 'began'), ...come(over, 'over') })) }),
    columns: record.columns.map((column) => ({ ...column, values: column.values.slice(0, time.length) })),
    ...(record.rows === undefined ? {} : { rows: record.rows.slice(0, time.length * record.columns.length) }),
  }
}
