import { Chart, axisOver, niceDomain } from '../../../chart'
import type { Axis, Series, SeriesRole } from '../../../chart'
import type { SpanCurve, SpanRead } from '../../../compute/span'
import { shownUnit, toShown } from '../../../units'

/** A curve with the role that its line has everywhere. */
export interface ReadCurve extends SpanCurve {
  readonly role: SeriesRole
}

interface SpanChartProps {
  readonly read: readonly SpanRead[]
  readonly curves: readonly ReadCurve[]
  readonly label: string
  readonly unit: string
}

/** What a spectrum is drawn from. */
interface PowerProps extends Pick<SpanChartProps, 'label' | 'unit'> {
  /** Where there is little room. */
  readonly title?: string
  readonly read: readonly Pick<SpanRead, 'name' | 'spectrum'>[]
  readonly curves: readonly Pick<ReadCurve, 'name' | 'role'>[]
}

const roleOf = (curves: PowerProps['curves'], name: string) => curves.find((one) => one.name === name)?.role ?? 'actual'

/** Decades of densities that are shown below the highest: beyond them is rounding. */
const decadesShown = 8

/** The root of the power density over frequency, both by decades. */
export function Power({ read, curves, label, unit, title }: PowerProps) {
  const series = read.flatMap(({ name, spectrum }): Series[] => {
    if (spectrum === undefined) return []
    const xs = spectrum.frequency.subarray(1)
    return [{ name, role: roleOf(curves, name), xs, ys: spectrum.density.subarray(1).map((d) => toShown(Math.sqrt(d), unit)) }]
  })
  if (series.length === 0) return <p className="note">There are too few samples between the two for a spectrum.</p>
  const pieces = read[0]?.spectrum?.pieces ?? 1
  const most = Math.max(...series.flatMap(({ ys }) => Array.from(ys)))
  const floor = most * 10 ** -decadesShown
  const shown = series.map((one) => ({ ...one, ys: Float64Array.from(one.ys, (value) => Math.max(value, floor)) }))
  const lowest = Math.min(...shown.flatMap(({ ys }) => Array.from(ys)))
  return (
    <Chart
      title={title ?? `Spectrum of ${label}`}
      unit={
        title === undefined
          ? `${shownUnit(unit)}/√Hz, ${pieces === 1 ? 'one piece' : `mean of ${pieces} pieces`}`
          : `${shownUnit(unit)}/√Hz`
      }
      x={byDecades(shown[0]!.xs[0]!, Math.max(...shown.map(({ xs }) => xs[xs.length - 1]!)), 'frequency, Hz')}
      y={byDecades(lowest, most, undefined)}
      series={shown}
      summary={`Root of the power density of ${label} over frequency.`}
    />
  )
}

/** What of a signal goes linearly with another, over frequency. */
export function Together({ read, curves, label, other }: Omit<SpanChartProps, 'unit'> & { readonly other: string }) {
  const series = read.flatMap(({ name, coherence }): Series[] =>
    coherence === undefined
      ? []
      : [{ name, role: roleOf(curves, name), xs: coherence.frequency.subarray(1), ys: coherence.coherence.subarray(1) }],
  )
  const [first] = series
  if (first === undefined)
    return <p className="note">Coherence needs several pieces: average over more, or read a longer part of the run.</p>
  return (
    <Chart
      title={`Coherence of ${label} with ${other}`}
      unit={`of 1, mean of ${read[0]?.coherence?.pieces ?? 0} pieces`}
      x={byDecades(first.xs[0]!, Math.max(...series.map(({ xs }) => xs[xs.length - 1]!)), 'frequency, Hz')}
      y={axisOver([0, 1], 4)}
      series={series}
      summary={`The share of the power of ${label} that goes with ${other}, over frequency.`}
    />
  )
}

/** Shares of the samples over what they are. */
export function Distribution({ read, curves, label, unit }: SpanChartProps) {
  const series = read.map(({ name, histogram: { edges, shares } }): Series => {
    // stairs: each bin from its lower to its upper edge
    const xs = Float64Array.from({ length: 2 * shares.length }, (_, i) => toShown(edges[Math.ceil(i / 2)]!, unit))
    const ys = Float64Array.from({ length: 2 * shares.length }, (_, i) => 100 * shares[Math.floor(i / 2)]!)
    return { name, role: roleOf(curves, name), xs, ys }
  })
  return (
    <Chart
      title={`Where ${label} is`}
      unit="% of the samples"
      x={{ ...axisOver(niceDomain(series.map(({ xs }) => xs)), 6), label: shownUnit(unit) }}
      y={axisOver(
        niceDomain(
          series.map(({ ys }) => ys),
          [0],
        ),
        3,
      )}
      series={series}
      summary={`Shares of the samples of ${label} over its values.`}
    />
  )
}

/** An axis by decades that holds both ends. */
function byDecades(least: number, most: number, label: string | undefined): Axis {
  const [low, high] = [Math.floor(Math.log10(least) + 1e-9), Math.ceil(Math.log10(most) - 1e-9)]
  const end = Math.max(high, low + 1)
  const step = Math.ceil((end - low) / 6)
  const ticks = Array.from({ length: Math.floor((end - low) / step) + 1 }, (_, i) => 10 ** (low + i * step))
  return { domain: [10 ** low, 10 ** end], ticks, scale: 'log', ...(label === undefined ? {} : { label }) }
}
