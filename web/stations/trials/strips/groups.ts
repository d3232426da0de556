import { findFamily, signalValues } from '@calm-hand/core/simulation'
import type { Document } from '@calm-hand/core/document'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { roleOfLetter } from '../../../chart'
import type { Series, SeriesRole } from '../../../chart'
import { signalUnit } from '../../../units'
import type { TrialView, WatchView, WatchedSignal } from '../useTrialView'
import { besideWords, lineOf, roleOf } from './lines'
import { statesOf } from './states'

interface Lines {
  readonly kind: 'lines'
  readonly unit: string
  readonly signals: readonly WatchedSignal[]
  readonly series: readonly Series[]
  readonly isFamily: boolean
}

interface States {
  readonly kind: 'states'
  readonly unit: string
  readonly signals: readonly WatchedSignal[]
  readonly states: ReturnType<typeof statesOf>
}

/** What is drawn below one another: a chart for each unit, a lane for each signal that only takes a few states. */
export function groupsOf(
  document: Document,
  view: Pick<TrialView, 'record' | 'pinned'>,
  watch: Pick<WatchView, 'signals'>,
): readonly (Lines | States)[] {
  const groups: (Lines | States)[] = []
  const [first] = watch.signals
  for (const signal of watch.signals) {
    const unit = signalUnit(signal)
    const family = familyLines(view.record, signal.name, unit)
    const values =
      view.record === undefined || family !== undefined ? undefined : signalValues(document, view.record, signal.name)
    const states = values === undefined || unit !== '' ? undefined : statesOf(view.record!.time, values)
    if (states !== undefined) {
      groups.push({ kind: 'states', unit, signals: [signal], states })
      continue
    }
    const name = watch.signals.length === 1 ? undefined : besideWords(signal, first!)
    const own = family ?? linesOf(document, view, signal, unit, name)
    const beside = groups.findIndex((one) => one.kind === 'lines' && one.unit === unit && !one.isFamily)
    const before = groups[beside]
    if (before?.kind === 'lines' && family === undefined)
      groups[beside] = {
        ...before,
        signals: [...before.signals, signal],
        series: [...before.series, ...toldApart(own, before.series)],
      }
    else groups.push({ kind: 'lines', unit, signals: [signal], series: own, isFamily: family !== undefined })
  }
  return groups
}

/** A second line of the same role has another dash. */
function toldApart(lines: readonly Series[], drawn: readonly Series[]): readonly Series[] {
  return lines.map((line) => {
    const alike = drawn.filter(({ role }) => role === line.role).length
    return alike === 0 ? line : { ...line, member: alike }
  })
}

function familyLines(record: RunRecord | undefined, name: string, unit: string): readonly Series[] | undefined {
  const family = record === undefined ? undefined : findFamily(record.columns, name)
  return family?.members.map(({ at, column }, member) => ({
    ...lineOf(String(at), roleOf(record!, column.name), record!.time, column.values, unit),
    member,
  }))
}

/** A signal in this run, in pinned runs, and as the linear machine has it. */
function linesOf(
  document: Document,
  { record, pinned }: Pick<TrialView, 'record' | 'pinned'>,
  { name, predicted }: WatchedSignal,
  unit: string,
  words: string | undefined,
): readonly Series[] {
  const said = (run: string) => (words === undefined ? run : run === 'actual' ? words : `${words}, ${run}`)
  const line = (run: RunRecord, of: string, role: SeriesRole): Series[] => {
    const values = signalValues(document, run, name)
    const every = run.columns.find((one) => one.name === name)?.every
    return values === undefined
      ? []
      : [{ ...lineOf(said(of), role, run.time, values, unit), ...(every === undefined ? {} : { every }) }]
  }
  return [
    ...pinned.flatMap(({ letter, record: run }) => line(run, letter, roleOfLetter(letter))),
    ...(record === undefined ? [] : line(record, 'actual', roleOf(record, name))),
    ...(predicted === undefined ? [] : [lineOf(said('prediction'), 'prediction', predicted.t, predicted.values, unit)]),
  ]
}
