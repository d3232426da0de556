import { knownRows } from '@calm-hand/core/identification'
import type { Measured } from '@calm-hand/core/identification'
import { Band, Chart, HorizontalMark, axisOver, niceDomain } from '../../../chart'
import type { Axis, Series } from '../../../chart'
import { useClock } from '../../../state/clock'
import { digitsOf, shownUnit, toShown } from '../../../units'
import { CursorLine } from '../CursorLine'
import { stripMargin, lineOf } from '../strips/lines'
import { Power } from '../span/SpanCharts'
import type { ComparedSignal, Comparison } from './useComparison'

/** Each signal of the record over what runs say of it, record less each of them, and the spectrum of that. */
export function CompareCharts({ comparison }: { readonly comparison: Comparison }) {
  const end = useClock((clock) => clock.end)
  const { told, signals } = comparison
  const measured = told?.measured
  if (measured === undefined) return null
  const time = axisOver([0, Math.max(end, 1)], 6)
  const shown = signals.filter(({ name }) => measured.signals.has(name))
  return (
    <>
      {shown.map((signal, i) => (
        <SignalCharts key={signal.name} {...{ comparison, signal, time }} isLast={i === shown.length - 1} />
      ))}
      {[...measured.lanes].map(([column, spells]) => (
        <div key={column} className="grid grid-cols-[52px_1fr_14px] items-center h-6" aria-label={`State lane of ${column}`}>
          <span className="note font-mono text-[11px] truncate">{column}</span>
          <div className="relative h-4 overflow-hidden">
            {spells.map(({ word, from, to }) => (
              <span
                key={from}
                className="absolute top-0 h-4 px-1 text-[11px] leading-[15px] border border-line-2 rounded-sm bg-fog-2 overflow-hidden whitespace-nowrap"
                style={{ left: `${(100 * from) / time.domain[1]}%`, width: `${(100 * (to - from)) / time.domain[1]}%` }}
                title={`${word}, ${from.toFixed(2)} s to ${to.toFixed(2)} s`}
              >
                {word}
              </span>
            ))}
          </div>
        </div>
      ))}
    </>
  )
}

interface SignalChartsProps {
  readonly comparison: Comparison
  readonly signal: ComparedSignal
  readonly time: Axis
  readonly isLast: boolean
}

function SignalCharts({ comparison, signal: { name, label, unit }, time, isLast }: SignalChartsProps) {
  const { told, lines, part } = comparison
  const { measured, differences, noise } = told!
  const known = knownRows(measured!.time, measured!.signals.get(name)!)
  const record = lineOf(String(part.file), 'measured', known.time, known.values, unit)
  const others = lines.flatMap(({ name: run, role, time: t, columns }) => {
    const column = columns.find((one) => one.name === name)
    return column === undefined ? [] : [lineOf(run, role, t, column.values, unit)]
  })
  const own = differences.filter(({ signal }) => signal === name)
  const roleOf = (run: string) => lines.find((one) => one.name === run)!.role
  const apart = own.map(({ run, values }): Series => {
    const { xs, ys } = openAtGaps(measured!, values)
    return lineOf(run, roleOf(run), xs, ys, unit)
  })
  const size = toShown(noise[name] ?? 0, unit)
  const certain = apart.filter(({ role }) => role !== 'prediction')
  const words = own.map(({ run, rms }) => `${run} ${digitsOf(rms, unit, 3)}`).join(', ')
  return (
    <div className="grid grid-cols-[minmax(0,1.75fr)_minmax(0,1fr)] gap-x-3">
      <div>
        <div className="h-[164px] grid">
          <Chart
            title={label}
            unit={shownUnit(unit)}
            x={time}
            y={axisOver(niceDomain([...others, record].map(({ ys }) => ys)), 4)}
            series={[...others, record]}
            margin={stripMargin}
            showX={false}
            summary={`${label} in the record and in ${others.map((one) => one.name).join(', ')}.`}
          >
            <Gaps gaps={measured!.gaps} />
            <CursorLine />
          </Chart>
        </div>
        <div className="h-[128px] grid">
          <Chart
            title="Record less each"
            unit={`${shownUnit(unit)}${words === '' ? '' : `, rms ${words}`}`}
            x={time}
            y={axisOver(
              niceDomain(
                (certain.length > 0 ? certain : apart).map(({ ys }) => ys),
                [-2 * size, 2 * size],
              ),
              3,
            )}
            series={apart}
            margin={stripMargin}
            showX={isLast}
            legend={false}
            summary={`The record less each run: rms ${words}. The band is twice its noise.`}
          >
            <Band xs={[...time.domain]} least={[-2 * size, -2 * size]} most={[2 * size, 2 * size]} tone="calm" />
            <HorizontalMark at={0} />
            <Gaps gaps={measured!.gaps} />
            <CursorLine />
          </Chart>
        </div>
      </div>
      <div className="h-[292px] grid">
        <Power
          read={own.map(({ run, spectrum }) => ({ name: run, spectrum }))}
          curves={own.map(({ run }) => ({ name: run, role: roleOf(run) }))}
          title="Spectrum"
          label="the difference"
          unit={unit}
        />
      </div>
    </div>
  )
}

/** Values over the times of a record, with a row that is no number in each gap: nothing is drawn across. */
function openAtGaps({ time, gaps }: Pick<Measured, 'time' | 'gaps'>, values: Float64Array) {
  const begins = new Set(gaps.map(([from]) => from))
  const [xs, ys]: [number[], number[]] = [[], []]
  for (let k = 0; k < time.length; k++) {
    xs.push(time[k]!)
    ys.push(values[k]!)
    if (!begins.has(time[k]!)) continue
    xs.push(time[k]!)
    ys.push(NaN)
  }
  return { xs, ys }
}

/** Where no rows are. */
function Gaps({ gaps }: { readonly gaps: readonly (readonly [number, number])[] }) {
  return gaps.map(([from, to]) => <Band key={from} xs={[from, to]} least={[-1e9, -1e9]} most={[1e9, 1e9]} tone="spread" />)
}
