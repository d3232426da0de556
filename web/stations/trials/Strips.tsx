import { useMemo } from 'react'
import { X } from 'lucide-react'
import { partAt, partsIn } from '@calm-hand/core/document'
import type { LoopPart } from '@calm-hand/core/document'
import { findColumn, referenceOf, signalValues, trialDuration } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { Chart, HorizontalMark, VerticalMark, niceDomain, niceTicks, roleOfLetter } from '../../chart'
import type { Axis, Series, SeriesRole } from '../../chart'
import { ChoiceSlot } from '../../sentence'
import { labelled, loopLabel } from '../../state/labels'
import { removePart } from '../../state/edits'
import { edit, useOpen } from '../../state/project'
import { motionUnit, shownUnit, signalUnit, toShown, withUnit } from '../../units'
import { CursorLine } from './CursorLine'
import { leftOut } from './leftOut'
import { Watch } from './Watch'
import { WhoPushes } from './WhoPushes'
import { cueTimes } from './useTrialView'
import { endWords } from '../../endWords'
import type { HeldView, TrialView, WatchedSignal } from './useTrialView'

const margin = { left: 52, right: 14 }
const referencePoints = 300

/** Watches on one clock: what a loop holds, its rate, the command, who pushes; then every signal that is watched besides. */
export function Strips({ view, onWatch }: { readonly view: TrialView; readonly onWatch: (loop: string) => void }) {
  const document = useOpen((project) => project.valid)
  const end = useMemo(() => trialDuration(document.trials[view.trial] as never), [document, view.trial])
  const times = useMemo(() => cueTimes(document, view.trial), [document, view.trial])
  const time: Axis = { domain: [0, end], ticks: niceTicks(0, end, 8), label: 'time, s' }
  const marks = (
    <>
      {times.map((t) => (
        <VerticalMark key={t} at={t} tone="plum" dash="2 3" />
      ))}
      <CursorLine />
    </>
  )
  return (
    <div className="grow shrink-0 flex flex-col min-h-[430px] px-3 pt-1" data-strips={view.record?.hash ?? 'none'}>
      {view.held !== undefined && (
        <LoopStrips view={view} held={view.held} time={time} onWatch={onWatch}>
          {marks}
        </LoopStrips>
      )}
      {view.watched.map((signal, i) => (
        <WatchedStrip
          key={signal.name}
          view={view}
          signal={signal}
          time={time}
          isLast={i === view.watched.length - 1 && view.held === undefined}
        >
          {marks}
        </WatchedStrip>
      ))}
      {view.held === undefined && view.watched.some(({ predicted }) => predicted !== undefined) && (
        <p className="note pt-1">{leftOut(document, view.trial).join(' ')}</p>
      )}
      <Watch view={view} />
    </div>
  )
}

interface LoopStripsProps {
  readonly view: TrialView
  readonly held: HeldView
  readonly time: Axis
  readonly onWatch: (loop: string) => void
  readonly children: React.ReactNode
}

/** Of one loop: what it holds with its reference, its rate, its command and who pushes, and by how much an estimator was surprised. */
function LoopStrips({ view, held, time, onWatch, children }: LoopStripsProps) {
  const document = useOpen((project) => project.valid)
  const { record } = view
  const { prediction, loop, isCommanded } = held
  const quantity = useMemo(() => ({ ...held.quantity, unit: motionUnit(held.quantity.unit) }), [held.quantity])
  const pushUnit = motionUnit(held.push.unit)
  const [, end] = time.domain
  const { height, rate, push, innovation } = useMemo(() => {
    const machine = view.machineName
    const times = cueTimes(document, view.trial)
    const rateUnit = rateUnitOf(quantity.unit)
    const reference = referenceOf(document, view.trial, loop)
    const even = Array.from({ length: referencePoints + 1 }, (_, i) => (end * i) / referencePoints) // a ramp is no step
    const referenceAt = [...even, ...times.flatMap((t) => [t - 1e-6, t])].sort((a, b) => a - b)
    const pinned = (column: string, unit: string) =>
      view.pinned.flatMap(({ letter, record: run }) => series(run, column, letter, roleOfLetter(letter), unit))
    const own = (column: string, name: string, role: SeriesRole, unit: string) =>
      record === undefined ? [] : series(record, column, name, role, unit)
    const predicted = (values: Float64Array | undefined, unit: string): Series[] =>
      prediction === undefined || values === undefined
        ? []
        : [{ name: 'prediction', role: 'prediction', xs: prediction.t, ys: values.map((value) => toShown(value, unit)) }]
    return {
      height: [
        ...own(`${machine}.${quantity.name}.measured`, 'measured', 'measured', quantity.unit),
        ...pinned(`${machine}.${quantity.name}`, quantity.unit),
        ...own(`${machine}.${quantity.name}.estimate`, 'estimate', 'estimate', quantity.unit),
        ...(isCommanded
          ? own(`loops.${loop}.reference`, 'reference', 'reference', quantity.unit)
          : [
              {
                name: 'reference',
                role: 'reference',
                xs: referenceAt,
                ys: referenceAt.map((t) => toShown(reference(t), quantity.unit)),
              } satisfies Series,
            ]),
        ...own(`${machine}.${quantity.name}`, 'actual', 'actual', quantity.unit),
        ...predicted(prediction?.held, quantity.unit),
      ],
      rate: [
        ...pinned(`${machine}.${quantity.rate}`, rateUnit),
        ...own(`${machine}.${quantity.rate}.estimate`, 'estimate', 'estimate', rateUnit),
        ...own(`${machine}.${quantity.rate}`, 'actual', 'actual', rateUnit),
        ...predicted(prediction?.rate, rateUnit),
      ],
      push: [
        ...pinned(`loops.${loop}.command`, pushUnit),
        ...own(`loops.${loop}.command`, 'command', 'command', pushUnit),
        ...predicted(prediction?.push, pushUnit),
      ],
      innovation: innovationsOf(record, quantity.name).flatMap(({ name, estimator }) =>
        own(name, estimator, 'measured', quantity.unit),
      ),
    }
  }, [document, view, record, prediction, quantity, loop, isCommanded, end, pushUnit])

  const rateUnit = shownUnit(rateUnitOf(quantity.unit))
  const limit = mostPush(view, document.loops[loop]!)
  const rows = [
    '3fr',
    ...(quantity.rate === undefined ? [] : ['2fr']),
    '2.4fr',
    '2.6fr',
    ...(innovation.length > 0 ? ['1.7fr'] : []),
  ].join(' ')
  return (
    <div className="grow min-h-[400px] grid grid-cols-1" style={{ gridTemplateRows: rows }}>
      <Chart
        title={quantity.label}
        unit={shownUnit(quantity.unit)}
        x={time}
        y={fitted(height)}
        series={height}
        heading={
          <h3 className="whitespace-nowrap">
            <ChoiceSlot label="loop shown" value={loop} options={labelled(document.loops, view.loops)} onChoose={onWatch} />{' '}
            <span className="font-normal text-mist">
              {quantity.label === loopLabel(document, loop) ? '' : `${quantity.label} `}
              {shownUnit(quantity.unit)}
            </span>
          </h3>
        }
        summary={summaryOf(held)}
        margin={margin}
        showX={false}
      >
        {children}
      </Chart>
      {quantity.rate !== undefined && (
        <Chart
          title={`rate of ${quantity.label}`}
          unit={rateUnit}
          x={time}
          y={fitted(rate)}
          series={rate}
          summary="Actual, estimated and predicted rate."
          margin={margin}
          showX={false}
          legend={false}
        >
          {children}
        </Chart>
      )}
      <Chart
        title="command"
        unit={shownUnit(pushUnit)}
        x={time}
        y={fitted(push, 0)}
        series={push}
        summary={`What the loop asks: ${held.push.label}.`}
        margin={margin}
        showX={false}
      >
        {limit !== undefined && (
          <HorizontalMark at={toShown(limit, pushUnit)} tone="coral" dash="2 3" label={`most ${withUnit(limit, pushUnit, 3)}`} />
        )}
        {children}
      </Chart>
      <WhoPushes view={view} held={held} time={time} margin={margin}>
        {children}
      </WhoPushes>
      {innovation.length > 0 && (
        <Chart
          title="innovation"
          unit={shownUnit(quantity.unit)}
          x={time}
          y={fitted(innovation, 0)}
          series={innovation}
          summary={`By how much a reading of ${quantity.label} surprised its estimator.`}
          margin={margin}
          showX={false}
        >
          <HorizontalMark at={0} />
          {children}
        </Chart>
      )}
    </div>
  )
}

interface WatchedStripProps {
  readonly view: TrialView
  readonly signal: WatchedSignal
  readonly time: Axis
  readonly isLast: boolean
  readonly children: React.ReactNode
}

/** Any signal of the run, of pinned runs, and as the linear machine has it. */
function WatchedStrip({ view, signal, time, isLast, children }: WatchedStripProps) {
  const document = useOpen((project) => project.valid)
  const { record, trial, pinned } = view
  const { name, label, predicted } = signal
  const unit = signalUnit(signal)
  const all = useMemo(() => {
    const line = (run: RunRecord, words: string, role: SeriesRole): Series[] => {
      const values = signalValues(document, run, name)
      return values === undefined ? [] : [{ name: words, role, xs: run.time, ys: values.map((value) => toShown(value, unit)) }]
    }
    return [
      ...pinned.flatMap(({ letter, record: run }) => line(run, letter, roleOfLetter(letter))),
      ...(record === undefined ? [] : line(record, 'actual', roleOf(record, name))),
      ...(predicted === undefined
        ? []
        : [
            {
              ...({ name: 'prediction', role: 'prediction', xs: predicted.t } as const),
              ys: predicted.values.map((value) => toShown(value, unit)),
            } satisfies Series,
          ]),
    ]
  }, [document, record, pinned, name, unit, predicted])
  const said = Object.entries(partsIn(document.trials[trial]!.watch))
  const key = said.find(([, part]) => part.signal === name)?.[0]
  return (
    <div className="h-[118px] shrink-0 grid" data-watched={name}>
      <Chart
        title={label}
        unit={shownUnit(unit)}
        x={time}
        y={fitted(all)}
        series={all}
        summary={`${label} over the run.`}
        margin={margin}
        showX={isLast}
        heading={
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
        }
      >
        {children}
      </Chart>
    </div>
  )
}

function roleOf(record: RunRecord, name: string): SeriesRole {
  const role = record.columns.find((column) => column.name === name)?.role
  return role === undefined || role === 'term' ? 'actual' : role
}

/** Columns of innovations of a quantity, with the name of their estimator. */
function innovationsOf(record: RunRecord | undefined, quantity: string): { name: string; estimator: string }[] {
  return (record?.columns ?? []).flatMap(({ name }) => {
    const [, estimator] = /^estimators\.([^.]+)\.innovation\./.exec(name) ?? []
    return estimator !== undefined && name.endsWith(`.innovation.${quantity}`) ? [{ name, estimator }] : []
  })
}

function rateUnitOf(unit: string): string {
  return unit.startsWith('°/s') ? '°/s²' : motionUnit(`${unit}/s`)
}

function series(record: RunRecord, column: string, name: string, role: SeriesRole, unit: string): Series[] {
  const values = findColumn(record, column)
  if (values === undefined) return []
  const every = record.columns.find((one) => one.name === column)?.every
  return [
    { name, role, xs: record.time, ys: values.map((value) => toShown(value, unit)), ...(every === undefined ? {} : { every }) },
  ]
}

/** A prediction that goes this many times as far as all else runs off: the chart shows what is true. */
const runsOff = 10

function fitted(all: readonly Series[], ...always: number[]): Axis {
  const span = (some: readonly Series[]) => {
    const [least, most] = niceDomain(some.map(({ ys }) => ys))
    return most - least
  }
  const certain = all.filter(({ role }) => role !== 'prediction')
  const shown = certain.length > 0 && span(all) > runsOff * span(certain) ? certain : all
  const domain = niceDomain(
    shown.map(({ ys }) => ys),
    always,
  )
  return { domain, ticks: niceTicks(...domain, 4) }
}

/** The most that a loop may command, by its own limit or that of the drive that it pushes. */
function mostPush({ machine }: TrialView, loop: LoopPart): number | undefined {
  const drive = partAt(machine, loop.pushes)
  const most = [loop.most, drive?.most].filter((one): one is number => typeof one === 'number')
  return most.length === 0 ? undefined : Math.min(...most)
}

function summaryOf({ figures, quantity }: HeldView): string {
  const { simulated } = figures
  if (simulated === undefined) return 'Not run yet.'
  const { overshoot } = simulated
  const ends = endWords(simulated, quantity.unit, (off) => `ends ${off} off`)
  return `Simulated ${quantity.label} overshoots by ${(100 * overshoot).toFixed(1)} % and ${ends}.`
}
