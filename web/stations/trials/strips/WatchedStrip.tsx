import { useMemo } from 'react'
import { X } from 'lucide-react'
import { partsIn } from '@calm-hand/core/document'
import { findFamily, signalValues } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { roleOfLetter } from '../../../chart'
import type { Axis, Series, SeriesRole } from '../../../chart'
import { removePart } from '../../../state/edits'
import { edit, useOpen } from '../../../state/project'
import { shownUnit, signalUnit } from '../../../units'
import type { TrialView, WatchedSignal } from '../useTrialView'
import { CalmBands } from './CalmBands'
import { lineOf } from './lines'
import { Strip } from './Strip'

interface WatchedStripProps {
  readonly view: TrialView
  readonly signal: WatchedSignal
  readonly time: Axis
  readonly isLast: boolean
  readonly children: React.ReactNode
}

/** Any signal of the run, of pinned runs, and as the linear machine has it; or all of one sort in this run. */
export function WatchedStrip({ view, signal, time, isLast, children }: WatchedStripProps) {
  const document = useOpen((project) => project.valid)
  const { record, trial, pinned } = view
  const { name, label, predicted } = signal
  const unit = signalUnit(signal)
  const series = useMemo(() => {
    const family = record === undefined ? undefined : findFamily(record.columns, name)
    if (family !== undefined)
      return family.members.map(({ at, column }, member) => ({
        ...lineOf(String(at), roleOf(record!, column.name), record!.time, column.values, unit),
        member,
      }))
    const line = (run: RunRecord, words: string, role: SeriesRole): Series[] => {
      const values = signalValues(document, run, name)
      return values === undefined ? [] : [lineOf(words, role, run.time, values, unit)]
    }
    return [
      ...pinned.flatMap(({ letter, record: run }) => line(run, letter, roleOfLetter(letter))),
      ...(record === undefined ? [] : line(record, 'actual', roleOf(record, name))),
      ...(predicted === undefined ? [] : [lineOf('prediction', 'prediction', predicted.t, predicted.values, unit)]),
    ]
  }, [document, record, pinned, name, unit, predicted])
  const isFamily = series.some(({ member }) => member !== undefined)
  const watches = Object.entries(partsIn(document.trials[trial]!.watch))
  const key = watches.find(([, part]) => part.signal === name)?.[0]
  const heading = (
    <h3 className="whitespace-nowrap flex items-center gap-1">
      {label} <span className="font-normal text-mist">{shownUnit(unit)}</span>
      {key !== undefined && (
        <button
          className="size-5 grid place-items-center text-mist"
          aria-label={`Do not watch ${label}`}
          onClick={() => edit(removePart(`trials.${trial}.watch.${key}`, `Do not watch ${label}`))}
        >
          <X size={12} />
        </button>
      )}
    </h3>
  )
  return (
    <div className={`${isFamily ? 'h-[172px]' : 'h-[118px]'} shrink-0 grid`} data-watched={name}>
      <Strip
        title={label}
        unit={unit}
        time={time}
        series={series}
        summary={`${label} over the run.`}
        showX={isLast}
        heading={heading}
      >
        <CalmBands view={view} signal={name} unit={unit} />
        {children}
      </Strip>
    </div>
  )
}

function roleOf(record: RunRecord, name: string): SeriesRole {
  const role = record.columns.find((column) => column.name === name)?.role
  return role === undefined || role === 'term' ? 'actual' : role
}
