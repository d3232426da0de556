import { useMemo } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document, Part } from '@calm-hand/core/document'
import { signalsOf } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { roleOfLetter } from '../../../chart'
import type { SeriesRole } from '../../../chart'
import { useAnswer } from '../../../compute'
import type { Answer } from '../../../compute'
import type { AskedRecord } from '../../../state/against'
import { useWatchedPrediction } from '../../../state/together'
import { signalUnit } from '../../../units'
import type { TrialView } from '../useTrialView'

type Told = Extract<Answer<'compared'>, { readonly kind: 'done' }>['value']
type BesideRun = { readonly name: string; readonly time: Float64Array; readonly columns: RunRecord['columns'] }

/** What stands beside a record, with the line that it has everywhere. */
export interface BesideLine extends BesideRun {
  readonly role: SeriesRole
  readonly title: string
}

export interface ComparedSignal {
  readonly name: string
  readonly label: string
  /** In which people see it. */
  readonly unit: string
}

export interface Comparison {
  readonly asked: AskedRecord
  readonly part: Part
  readonly path: string
  readonly lines: readonly BesideLine[]
  /** Signals that the record tells, in its order. */
  readonly signals: readonly ComparedSignal[]
  readonly answer: Answer<'compared'> | undefined
  readonly told: Told | undefined
  readonly failure: string | undefined
}

/** A measured record beside the runs of its trial: nothing where the trial has none. */
export function useComparison(document: Document, view: TrialView): Comparison | undefined {
  const { trial, record } = view
  const records = partsIn(document.trials[trial]!.records)
  const said = document.trials[trial]!.against as AskedRecord | undefined
  const name = said !== undefined && said.record in records ? said.record : Object.keys(records)[0]
  const part = name === undefined ? undefined : records[name]
  const [from, to] = [said?.from ?? 0, said?.to ?? Number(view.end.toFixed(3))]
  const mapped = useMemo(
    () => Object.values(partsIn(part?.columns)).flatMap(({ signal }) => (signal === undefined ? [] : [String(signal)])),
    [part],
  )
  const predicted = useWatchedPrediction(view.clocked, trial, view.machineName, mapped)
  const lines = useMemo(() => linesOf(view, mapped, predicted), [view, mapped, predicted])
  const sent = useMemo(
    () => lines.map(({ name: run, time, columns }) => ({ name: run, time, columns: columns.map(plain) })),
    [lines],
  )
  const key = JSON.stringify([part ?? '', from, to, record?.hash, lines.map((one) => [one.name, one.title, one.time.length])])
  const { answer, failure } = useAnswer('compared', document, name === undefined ? undefined : [trial, name, sent, from, to], {
    ...{ subject: `${trial} ${name}`, key },
  })
  if (name === undefined || part === undefined) return undefined
  const known = new Map(signalsOf(document, trial, record).map((signal) => [signal.name, signal]))
  return {
    ...{ asked: { record: name, from, to }, part, path: `trials.${trial}.records.${name}`, lines, answer, failure },
    told: answer?.kind === 'done' ? answer.value : undefined,
    signals: [...new Set(mapped)].map((signal) => {
      const found = known.get(signal) ?? { name: signal, label: `${signal} (not in this run)`, unit: '' }
      return { name: signal, label: found.label, unit: signalUnit(found) }
    }),
  }
}

/** A column without what cannot be sent. */
function plain({ name, label, unit, role, angle, values }: RunRecord['columns'][number]) {
  return { name, label, unit, role, values, ...(angle === undefined ? {} : { angle }) }
}

/** The run, its prediction and the pinned runs, with what of them the record tells. */
function linesOf(
  { record, held, machineName, pinned }: TrialView,
  mapped: readonly string[],
  linear: ReturnType<typeof useWatchedPrediction>,
): readonly BesideLine[] {
  const of = (run: RunRecord) => run.columns.filter(({ name }) => mapped.includes(name))
  const columnsOf = (signal: string) => record?.columns.find(({ name }) => name === signal)
  const predicted = new Map<string, { readonly time: Float64Array; readonly values: Float64Array }>(
    Object.entries(linear?.values ?? {}).map(
      ([quantity, values]) => [`${machineName}.${quantity}`, { time: linear!.t, values }] as const,
    ),
  )
  if (held?.prediction !== undefined) {
    predicted.set(`loops.${held.loop}.command`, { time: held.prediction.t, values: held.prediction.push })
  }
  const shown = mapped.flatMap((signal) => {
    const [one, column] = [predicted.get(signal), columnsOf(signal)]
    return one === undefined || column === undefined ? [] : [{ time: one.time, column: { ...column, values: one.values } }]
  })
  return [
    ...(record === undefined
      ? []
      : [
          { name: 'simulation', title: 'the run that is shown', role: 'actual' as const, time: record.time, columns: of(record) },
        ]),
    ...(shown[0] === undefined
      ? []
      : [
          {
            name: 'prediction',
            title: 'linear',
            role: 'prediction' as const,
            time: shown[0].time,
            columns: shown.map(({ column }) => column),
          },
        ]),
    ...pinned.map(({ letter, title, record: run }) => ({
      name: letter,
      title,
      role: roleOfLetter(letter),
      time: run.time,
      columns: of(run),
    })),
  ]
}
