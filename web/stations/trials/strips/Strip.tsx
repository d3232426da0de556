import { useDeferredValue, useMemo } from 'react'
import type { ComponentProps } from 'react'
import { Chart, Legend, axisOver, niceDomain, valuesOver } from '../../../chart'
import type { Axis, Series } from '../../../chart'
import { useClock } from '../../../state/clock'
import { shownUnit } from '../../../units'
import { stripMargin } from './lines'

type ChartProps = ComponentProps<typeof Chart>

interface StripProps extends Pick<ChartProps, 'title' | 'series' | 'summary' | 'heading' | 'legend' | 'showX' | 'children'> {
  /** As signals have it; what is shown may be another one. */
  readonly unit: string
  readonly time: Axis
  /** Values that are on the chart whatever else is. */
  readonly always?: readonly number[]
}

/** One watch on the common clock, as high as what it shows. */
export function Strip({ unit, time, always = none, showX = false, ...rest }: StripProps) {
  const { series } = rest
  const [from, to] = useDeferredValue(time.domain)
  const y = useMemo(() => fitted(series, always, [from, to]), [series, always, from, to])
  return (
    <Chart
      legend={<LegendAtCursor series={series} />}
      {...rest}
      unit={shownUnit(unit)}
      x={time}
      y={y}
      margin={stripMargin}
      showX={showX}
    />
  )
}

/** Each line with what it shows at the cursor, while that stands still. */
function LegendAtCursor({ series }: { readonly series: readonly Series[] }) {
  const at = useClock(({ cursor, playing }) => (playing ? undefined : cursor))
  return <Legend series={series} {...(at === undefined ? {} : { at })} />
}

const none: readonly number[] = []

/** A prediction that goes this many times as far as all else runs off: the chart shows what is true. */
const runsOff = 10

function fitted(all: readonly Series[], always: readonly number[], domain: Axis['domain']): Axis {
  const seen = all.map((one) => ({ ...one, ys: valuesOver(one, domain) }))
  const span = (some: readonly Series[]) => {
    const [least, most] = niceDomain(some.map(({ ys }) => ys))
    return most - least
  }
  const certain = seen.filter(({ role }) => role !== 'prediction')
  const shown = certain.length > 0 && span(seen) > runsOff * span(certain) ? certain : seen
  return axisOver(
    niceDomain(
      shown.map(({ ys }) => ys),
      always,
    ),
    4,
  )
}
