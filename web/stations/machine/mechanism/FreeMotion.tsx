import type { Part } from '@calm-hand/core/document'
import { shortName } from '@calm-hand/core/machine'
import type { Measured, ModelReport } from '@calm-hand/core/simulation'
import { findColumn } from '@calm-hand/core/simulation'
import { Chart, axisOver, niceDomain, niceTicks } from '../../../chart'
import type { Axis, Series } from '../../../chart'
import { shownUnit, toShown } from '../../../units'

interface FreeMotionProps {
  readonly machine: Part
  readonly report: ModelReport | undefined
  /** How it was a moment ago, shown paler until the report comes. */
  readonly before?: ModelReport | undefined
  readonly coordinate: string | undefined
  readonly unit: string
  /** A sensor shows what it reads: `sensors.gyro`. */
  readonly chosen: string
}

/** What the machine does when it is let go: the chosen coordinate, and where its energy goes. */
export function FreeMotion({ report, before, ...rest }: FreeMotionProps) {
  const shown = report ?? before
  if (shown === undefined) return <p className="note p-4">Letting it go ...</p>
  return (
    <div className={`relative h-full min-h-0 ${report === undefined ? 'opacity-50' : ''}`} aria-busy={report === undefined}>
      <Motion {...rest} report={shown} />
    </div>
  )
}

interface MotionProps extends Omit<FreeMotionProps, 'report' | 'before'> {
  readonly report: ModelReport
}

function Motion({ machine, report, coordinate, unit, chosen }: MotionProps) {
  const { swing } = report
  const curve = (name: string, words: string, role: Series['role'], of = ''): Series[] => {
    const values = findColumn(swing as never, name)
    return values === undefined ? [] : [{ name: words, role, xs: swing.time, ys: values.map((value) => toShown(value, of)) }]
  }
  const sensed = report.measured.filter(({ name }) => name === chosen || name.startsWith(`${chosen}.`))
  const [sensor] = sensed
  if (sensor !== undefined) return <Sensed report={report} readings={sensed} />
  const way = coordinate === undefined ? wayOf(swing, chosen) : []
  const moving =
    way.length > 0
      ? way.flatMap((one, i) =>
          curve(one, one.slice(one.lastIndexOf('.') + 1), (['measured', 'estimate', 'actual'] as const)[i]!),
        )
      : coordinate === undefined
        ? []
        : curve(coordinate, shortName(coordinate, machine), 'actual', unit)
  const energy = [
    ...curve('energy.kinetic', 'kinetic', 'actual'),
    ...curve('energy.stored', 'in springs', 'estimate'),
    ...curve('energy.lost', 'lost', 'command'),
  ]
  const end = swing.time.at(-1) ?? 1
  const time: Axis = { domain: [0, end], ticks: niceTicks(0, end, 5), label: 'time' }
  const diverged =
    swing.ending.kind === 'diverged' ? ` It diverges at ${swing.ending.at.toFixed(2)} s: ${swing.ending.state}.` : ''
  return (
    <div className="grid grid-cols-2 gap-x-4 px-3 pt-2 pb-1 h-full min-h-0">
      <Chart
        title="Let go"
        unit={way.length > 0 ? 'm' : shownUnit(unit)}
        x={time}
        y={fitted(moving)}
        series={moving}
        summary={`${coordinate === undefined ? (way.length > 0 ? 'Its way' : 'Nothing') : shortName(coordinate, machine)} over ${end.toFixed(0)} s of free motion with drives at 0.${diverged}`}
      />
      <Chart
        title="Energy"
        unit="J"
        x={time}
        y={fitted(energy)}
        series={energy}
        summary="Kinetic energy, energy in springs and energy lost."
      />
    </div>
  )
}

/** Where a coordinate does not say it, the way of a body that nothing holds, along each axis: of the chosen one, else of the first. */
function wayOf({ columns }: ModelReport['swing'], chosen: string): readonly string[] {
  const ways = columns.filter(({ name, unit }) => unit === 'm' && /^[^.]+\.[xyz]$/.test(name)).map(({ name }) => name)
  const [first] = ways
  const of = (body: string) => ways.filter((name) => name.startsWith(`${body}.`))
  return of(chosen).length > 0 || first === undefined ? of(chosen) : of(first.split('.')[0]!)
}

/** What a sensor reads of the free motion, over what is true. */
function Sensed({ report: { swing }, readings }: { readonly report: ModelReport; readonly readings: readonly Measured[] }) {
  const end = swing.time.at(-1) ?? 1
  const time: Axis = { domain: [0, end], ticks: niceTicks(0, end, 5), label: 'time' }
  return (
    <div
      className="grid gap-x-4 px-3 pt-2 pb-1 h-full min-h-0"
      style={{ gridTemplateColumns: `repeat(${readings.length}, minmax(0, 1fr))` }}
    >
      {readings.map(({ name, label, unit, time: at, values, lost }) => {
        const truth = findColumn(swing as never, name)!
        const series: Series[] = [
          { name: 'true', role: 'actual', xs: swing.time, ys: truth.map((value) => toShown(value, unit)) },
          { name: 'read', role: 'measured', xs: at, ys: values.map((value) => toShown(value, unit)) },
        ]
        const gone = lost.filter((one) => one).length
        return (
          <Chart
            key={name}
            title={label}
            unit={shownUnit(unit)}
            x={time}
            y={fitted(series)}
            series={series}
            summary={`${values.length} samples over ${end.toFixed(0)} s of free motion${gone > 0 ? `, ${gone} of them lost` : ''}.`}
          />
        )
      })}
    </div>
  )
}

function fitted(series: readonly Series[]): Axis {
  const domain = niceDomain(series.map(({ ys }) => ys))
  return axisOver(domain, 4)
}
