import { useMemo } from 'react'
import { Chart, HorizontalMark, Points, VerticalMark } from '../../../chart'
import type { Series } from '../../../chart'
import { decibels, degrees, plainAxis } from './axes'
import type { LookProps } from './look'

/** Closed-loop magnitudes whose contours are drawn, dB. */
const contours = [3, 6]

/** Gain over phase with contours of equal closed-loop magnitude |L/(1 + L)|: L = m e^(jt)/(1 - m e^(jt)). */
export function Nichols({ now }: LookProps) {
  const { curve, phaseMargin, gainMargin } = now.analysis
  const lines = useMemo(() => contours.map(contour), [])
  const series: Series[] = [
    ...lines,
    {
      name: 'loop gain',
      role: 'prediction',
      xs: curve.map(({ phase }) => degrees(phase)),
      ys: curve.map(({ magnitude }) => decibels(magnitude)),
    },
  ]
  return (
    <Chart
      title="Nichols"
      unit="gain, dB over phase"
      x={plainAxis(-360, 0, 'phase, deg')}
      y={{ domain: [-40, 40], ticks: [-40, -20, 0, 20, 40] }}
      series={series}
      legend={false}
      heading={
        <h3 className="whitespace-nowrap">
          Nichols <span className="font-normal text-mist">dB over deg; plum: closed loop 3 and 6 dB</span>
        </h3>
      }
      summary={`Phase margin ${phaseMargin === undefined ? 'none' : `${degrees(phaseMargin).toFixed(1)} degrees`}, gain margin ${gainMargin === undefined ? 'none' : `${decibels(gainMargin.factor).toFixed(1)} dB`}.`}
    >
      <HorizontalMark at={0} />
      <VerticalMark at={-180} />
      <Points at={[{ x: -180, y: 0 }]} shape="cross" tone="coral" />
    </Chart>
  )
}

function contour(level: number): Series {
  const m = 10 ** (level / 20)
  const points = Array.from({ length: 181 }, (_, i) => {
    const t = (2 * Math.PI * i) / 180
    const [re, im] = [m * Math.cos(t), m * Math.sin(t)]
    const size = (1 - re) ** 2 + im ** 2
    const [x, y] = [(re * (1 - re) - im * im) / size, im / size]
    const phase = degrees(Math.atan2(y, x))
    return { phase: phase > 0 ? phase - 360 : phase, gain: decibels(Math.hypot(x, y)) }
  })
  return {
    name: `${level} dB closed`,
    role: 'disturbance',
    xs: points.map(({ phase }) => phase),
    ys: points.map(({ gain }) => gain),
  }
}
