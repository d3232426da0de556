import { Chart, niceDomain, niceTicks } from '../../../chart'
import type { Axis, Series } from '../../../chart'
import { shownUnit } from '../../../units'
import { stripMargin } from './lines'

interface StripProps {
  readonly title: string
  /** As signals have it; what is shown may be another one. */
  readonly unit: string
  readonly time: Axis
  readonly series: readonly Series[]
  /** Values that are on the chart whatever else is. */
  readonly always?: readonly number[]
  readonly summary: string
  readonly heading?: React.ReactNode
  readonly legend?: boolean
  readonly showX?: boolean
  readonly children: React.ReactNode
}

/** One watch on the common clock, as high as what it shows. */
export function Strip({ title, unit, time, series, always = [], summary, heading, legend, showX = false, children }: StripProps) {
  return (
    <Chart
      title={title}
      unit={shownUnit(unit)}
      x={time}
      y={fitted(series, always)}
      series={series}
      summary={summary}
      margin={stripMargin}
      showX={showX}
      {...(heading === undefined ? {} : { heading })}
      {...(legend === undefined ? {} : { legend })}
    >
      {children}
    </Chart>
  )
}

/** A prediction that goes this many times as far as all else runs off: the chart shows what is true. */
const runsOff = 10

function fitted(all: readonly Series[], always: readonly number[]): Axis {
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
