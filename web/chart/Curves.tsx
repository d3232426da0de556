import { useMemo } from 'react'
import { drawnRows, isRising, rowsOver } from './decimate'
import { Clipped } from './Marks'
import { ScalesContext } from './plotScales'
import type { PlotScales } from './plotScales'
import { strokeOf } from './series'
import type { Series } from './series'

interface CurvesProps {
  readonly series: readonly Series[]
  readonly scales: PlotScales
  readonly children?: React.ReactNode
}

/** All curves of a chart, clipped to its plot, and what is drawn over them. */
export function Curves({ series, scales, children }: CurvesProps) {
  return (
    <ScalesContext value={scales}>
      <Clipped>
        {series.map((one) => (
          <Curve key={one.name} series={one} scales={scales} />
        ))}
      </Clipped>
      {children}
    </ScalesContext>
  )
}

function Curve({ series, scales }: { readonly series: Series; readonly scales: PlotScales }) {
  const { color, width, dash, shape } = strokeOf(series)
  const d = useMemo(
    () => (shape === 'dots' ? dots(series, scales) : line(series, scales, shape === 'steps' && series.isSmooth !== true)),
    [series, scales, shape],
  )
  return (
    <path
      d={d}
      fill="none"
      stroke={`var(${color})`}
      strokeWidth={width}
      strokeDasharray={dash}
      strokeLinejoin="round"
      strokeLinecap={shape === 'dots' ? 'round' : 'butt'}
      data-series={series.name}
    />
  )
}

function line({ xs, ys }: Series, { x, y, width, domain }: PlotScales, stepped: boolean): string {
  let d = ''
  // what is no number leaves the curve open
  let isOpen = true
  for (const i of drawnRows(xs, ys, Math.ceil(width), domain)) {
    const [px, py] = [x(xs[i]!), y(ys[i]!)]
    if (!Number.isFinite(px) || !Number.isFinite(py)) {
      isOpen = true
      continue
    }
    d += isOpen
      ? `M${px.toFixed(1)} ${py.toFixed(1)}`
      : stepped
        ? `H${px.toFixed(1)}V${py.toFixed(1)}`
        : `L${px.toFixed(1)} ${py.toFixed(1)}`
    isOpen = false
  }
  return d
}

/** Fresh values only, thinned to one every few pixels. */
function dots({ xs, ys, every = 1 }: Series, { x, y, width, domain }: PlotScales): string {
  let d = ''
  const [first, last] = isRising(xs) ? rowsOver(xs, domain) : [0, xs.length - 1]
  const step = every * Math.max(1, Math.ceil(((last - first + 1) / every) * (3 / width)))
  // the same ones, wherever the plot begins
  for (let i = Math.floor(first / step) * step; i <= last; i += step) {
    const [px, py] = [x(xs[i]!), y(ys[i]!)]
    if (Number.isFinite(px) && Number.isFinite(py)) d += `M${px.toFixed(1)} ${py.toFixed(1)}h0.01`
  }
  return d
}
