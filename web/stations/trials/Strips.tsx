import { useMemo } from 'react'
import { findColumn, referenceOf, trialDuration } from '@calm-hand/core/simulation'
import type { Record as RunRecord } from '@calm-hand/core/simulation'
import { Chart, HorizontalMark, VerticalMark, niceDomain, niceTicks, roleOfLetter } from '../../chart'
import type { Axis, Series, SeriesRole } from '../../chart'
import { ChoiceSlot } from '../../sentence'
import { useOpen } from '../../state/project'
import { shownUnit, toShown } from '../../units'
import { CursorLine } from './CursorLine'
import { WhoPushes } from './WhoPushes'
import { cueTimes } from './useTrialView'
import type { TrialView } from './useTrialView'

const margin = { left: 52, right: 14 }
const referencePoints = 300

/** Watches on one clock: what a loop holds, its rate, the command, who pushes, and by how much an estimator was surprised. */
export function Strips({ view, onWatch }: { readonly view: TrialView; readonly onWatch: (loop: string) => void }) {
  const document = useOpen((project) => project.valid)
  const end = useMemo(() => trialDuration(document.trials[view.trial] as never), [document, view.trial])
  const times = useMemo(() => cueTimes(document, view.trial), [document, view.trial])
  const { record, prediction, quantity, loop } = view
  const pushUnit = view.push.unit
  const { height, rate, push, innovation } = useMemo(() => {
    const machine = view.machineName
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
        ...(view.isCommanded
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
  }, [document, view, record, prediction, quantity, loop, end, times, pushUnit])

  const time: Axis = { domain: [0, end], ticks: niceTicks(0, end, 8), label: 'time, s' }
  const rateUnit = shownUnit(rateUnitOf(quantity.unit))
  const marks = (
    <>
      {times.map((t) => (
        <VerticalMark key={t} at={t} tone="plum" dash="2 3" />
      ))}
      <CursorLine />
    </>
  )
  const limit = mostPush(view)
  const rows = [
    '3fr',
    ...(quantity.rate === undefined ? [] : ['2fr']),
    '2.4fr',
    '2.6fr',
    ...(innovation.length > 0 ? ['1.7fr'] : []),
  ].join(' ')
  return (
    <div
      className="grow min-h-[430px] grid grid-cols-1 px-3 pt-1"
      style={{ gridTemplateRows: rows }}
      data-strips={record?.hash ?? 'none'}
    >
      <Chart
        title={quantity.label}
        unit={shownUnit(quantity.unit)}
        x={time}
        y={fitted(height)}
        series={height}
        heading={
          <h3 className="whitespace-nowrap">
            <ChoiceSlot label="loop shown" value={loop} options={named(view.loops)} onChoose={onWatch} />{' '}
            <span className="font-normal text-mist">
              {quantity.label === loop ? '' : `${quantity.label} `}
              {shownUnit(quantity.unit)}
            </span>
          </h3>
        }
        summary={summaryOf(view)}
        margin={margin}
        showX={false}
      >
        {marks}
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
          {marks}
        </Chart>
      )}
      <Chart
        title="command"
        unit={shownUnit(pushUnit)}
        x={time}
        y={fitted(push, 0)}
        series={push}
        summary={`What the loop asks: ${view.push.label}.`}
        margin={margin}
        showX={false}
      >
        {limit !== undefined && <HorizontalMark at={limit} tone="coral" dash="2 3" label={`most ${limit.toFixed(0)} N`} />}
        {marks}
      </Chart>
      <WhoPushes view={view} time={time} margin={margin}>
        {marks}
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
          {marks}
        </Chart>
      )}
    </div>
  )
}

const named = (loops: readonly string[]) => Object.fromEntries(loops.map((name) => [name, name]))

/** Columns of innovations of a quantity, with the name of their estimator. */
function innovationsOf(record: RunRecord | undefined, quantity: string): { name: string; estimator: string }[] {
  return (record?.columns ?? []).flatMap(({ name }) => {
    const [, estimator] = /^estimators\.([^.]+)\.innovation\./.exec(name) ?? []
    return estimator !== undefined && name.endsWith(`.innovation.${quantity}`) ? [{ name, estimator }] : []
  })
}

function rateUnitOf(unit: string): string {
  return `${unit}/s`
}

function series(record: RunRecord, column: string, name: string, role: SeriesRole, unit: string): Series[] {
  const values = findColumn(record, column)
  if (values === undefined) return []
  const every = record.columns.find((one) => one.name === column)?.every
  return [
    { name, role, xs: record.time, ys: values.map((value) => toShown(value, unit)), ...(every === undefined ? {} : { every }) },
  ]
}

function fitted(all: readonly Series[], ...always: number[]): Axis {
  const domain = niceDomain(
    all.map(({ ys }) => ys),
    always,
  )
  return { domain, ticks: niceTicks(...domain, 4) }
}

function mostPush({ machine, loop }: TrialView): number | undefined {
  if (loop !== 'height' || machine.rotors === undefined) return undefined
  const rotors = machine.rotors as unknown as { count: number; thrustCoefficient: number; mostSpeed: number }
  return rotors.count * rotors.thrustCoefficient * rotors.mostSpeed ** 2
}

function summaryOf({ figures, quantity }: TrialView): string {
  const { simulated } = figures
  if (simulated === undefined) return 'Not run yet.'
  return `Simulated ${quantity.label} overshoots by ${(100 * simulated.overshoot).toFixed(1)} % and ends ${simulated.steadyError.toPrecision(2)} ${quantity.unit} off.`
}
