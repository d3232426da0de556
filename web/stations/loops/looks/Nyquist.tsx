import { useAnswer } from '../../../compute'
import { Chart, Points } from '../../../chart'
import type { Series } from '../../../chart'
import { plainAxis } from './axes'
import type { LookProps } from './look'

const circle = Array.from({ length: 121 }, (_, i) => (2 * Math.PI * i) / 120)

/** The loop gain in the plane, with the point -1, the unit circle, and the circle that the sensitivity peak keeps clear. */
export function Nyquist({ document, loop, now }: LookProps) {
  const { analysis } = now
  const points = useAnswer('points', document, [loop], { subject: loop, rank: 2 }).answer ?? []
  const clear = 1 / analysis.margins.sensitivityPeak.factor
  const series: Series[] = [
    { name: 'unit circle', role: 'estimate', xs: circle.map(Math.cos), ys: circle.map(Math.sin) },
    {
      name: 'kept clear',
      role: 'disturbance',
      xs: circle.map((t) => -1 + clear * Math.cos(t)),
      ys: circle.map((t) => clear * Math.sin(t)),
    },
    { name: 'loop gain', role: 'prediction', xs: points.map(({ loop }) => loop.re), ys: points.map(({ loop }) => loop.im) },
  ]
  return (
    <Chart
      title="Nyquist"
      unit="loop gain, real and imaginary"
      x={plainAxis(-3, 2, 'real part')}
      y={plainAxis(-4.7, 4)}
      series={series}
      legend={false}
      heading={
        <h3 className="whitespace-nowrap">
          Nyquist <span className="font-normal text-mist">plum: what it keeps clear of -1</span>
        </h3>
      }
      summary={`The loop gain stays ${clear.toFixed(2)} away from -1; the closed loop is ${analysis.stable ? 'stable' : 'unstable'}.`}
    >
      <Points at={[{ x: -1, y: 0 }]} shape="cross" tone="coral" />
    </Chart>
  )
}
