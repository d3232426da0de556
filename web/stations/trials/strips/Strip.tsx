import type { ComponentProps } from 'react'
import { Chart, axisOver, niceDomain } from '../../../chart'
import type { Axis, Series } from '../../../chart'
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
export function Strip({ unit, time, always = [], showX = false, ...rest }: StripProps) {
  return <Chart {...rest} unit={shownUnit(unit)} x={time} y={fitted(rest.series, always)} margin={stripMargin} showX={showX} />
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
  return axisOver(domain, 4)
}
