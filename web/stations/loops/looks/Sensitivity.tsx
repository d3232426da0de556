import { useAnswer } from '../../../compute'
import { Chart, HorizontalMark, Span } from '../../../chart'
import type { Series } from '../../../chart'
import { decibels, frequencyAxis } from './axes'
import type { LookProps } from './look'

/** How strongly disturbances and errors of the model come through, and how the reference is followed. */
export function Sensitivity({ document, loop, now }: LookProps) {
  const { analysis } = now
  const points = useAnswer('points', document, [loop], { subject: loop, rank: 2 }).answer ?? []
  const xs = points.map(({ w }) => w)
  const series: Series[] = [
    { name: 'sensitivity', role: 'disturbance', xs, ys: points.map(({ sensitivity }) => decibels(sensitivity)) },
    { name: 'complementary', role: 'actual', xs, ys: points.map(({ complementary }) => decibels(complementary)) },
    { name: 'held over reference', role: 'prediction', xs, ys: points.map(({ follows }) => decibels(follows)) },
  ]
  const peak = analysis.margins.sensitivityPeak
  return (
    <Chart
      title="Sensitivity and closed loop"
      unit="dB"
      x={frequencyAxis}
      y={{ domain: [-50, 20], ticks: [-40, -20, 0, 20] }}
      series={series}
      cursor="frequency"
      summary={`Sensitivity peaks at ${peak.factor.toPrecision(3)} at ${peak.w.toPrecision(3)} rad/s.`}
    >
      <HorizontalMark at={0} />
      <Span x={peak.w} from={0} to={decibels(peak.factor)} label={`peak ${peak.factor.toFixed(2)}`} />
    </Chart>
  )
}
