import { memo, useEffect, useMemo, useState } from 'react'
import { CartesianGrid, LineChart, ResponsiveContainer, XAxis, YAxis, usePlotArea, useXAxisScale, useYAxisScale } from 'recharts'
import type { Axis } from './axis'
import type { PlotScales } from './plotScales'
import { tickWords } from './scales'

/** Where curves are drawn: a layer of the chart's picture, with its scales. */
export interface PlotLayer {
  readonly element: SVGGElement
  readonly scales: PlotScales
}

interface PlotProps {
  readonly x: Axis
  readonly y: Axis
  readonly showX: boolean
  readonly margin: { readonly left: number; readonly right: number }
  readonly onLayer: (layer: PlotLayer | undefined) => void
}

const tick = { fontSize: 10.5, fontFamily: 'var(--mono)', fill: 'var(--mist)' }

/** Frame, axes and grid by Recharts. What changes from frame to frame is drawn on its layer, so that this is not drawn anew. */
export const Plot = memo(
  function Plot({ x, y, showX, margin, onLayer }: PlotProps) {
    const corner = [
      { x: x.domain[0], y: y.domain[0] },
      { x: x.domain[1], y: y.domain[1] },
    ]
    return (
      <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 320, height: 140 }}>
        <LineChart
          data={corner}
          margin={{ top: 6, right: margin.right, bottom: showX ? 0 : 4, left: 0 }}
          accessibilityLayer={false}
        >
          <CartesianGrid stroke="var(--line)" vertical horizontal />
          <XAxis
            dataKey="x"
            type="number"
            domain={[...x.domain]}
            scale={x.scale ?? 'linear'}
            ticks={[...x.ticks]}
            interval="preserveStartEnd"
            allowDataOverflow
            height={showX ? 20 : 1}
            tick={showX ? tick : false}
            axisLine={{ stroke: 'var(--line-2)' }}
            tickLine={false}
            tickFormatter={x.format}
          />
          <YAxis
            dataKey="y"
            type="number"
            domain={[...y.domain]}
            scale={y.scale ?? 'linear'}
            ticks={[...y.ticks]}
            allowDataOverflow
            width={margin.left}
            tick={tick}
            axisLine={{ stroke: 'var(--line-2)' }}
            tickLine={false}
            tickFormatter={y.format ?? tickWords}
          />
          <Layer domain={x.domain} onLayer={onLayer} />
        </LineChart>
      </ResponsiveContainer>
    )
  },
  (a, b) => a.showX === b.showX && a.onLayer === b.onLayer && frameOf(a) === frameOf(b) && isFormatAlike(a, b),
)

function frameOf({ x, y, margin }: PlotProps): string {
  return JSON.stringify([x.domain, x.ticks, x.scale, y.domain, y.ticks, y.scale, margin])
}

function isFormatAlike(a: PlotProps, b: PlotProps): boolean {
  return a.x.format === b.x.format && a.y.format === b.y.format
}

function Layer({ domain: [from, to], onLayer }: Pick<PlotProps, 'onLayer'> & Pick<Axis, 'domain'>) {
  const area = usePlotArea()
  const xScale = useXAxisScale()
  const yScale = useYAxisScale()
  const [element, setElement] = useState<SVGGElement | null>(null)
  const scales = useMemo((): PlotScales | undefined => {
    if (area === undefined || xScale === undefined || yScale === undefined) return undefined
    return {
      domain: [from, to],
      x: (v) => xScale(v) ?? NaN,
      y: (v) => yScale(v) ?? NaN,
      left: area.x,
      top: area.y,
      width: area.width,
      height: area.height,
    }
  }, [area, xScale, yScale, from, to])
  useEffect(() => {
    onLayer(element === null || scales === undefined ? undefined : { element, scales })
  }, [element, scales, onLayer])
  return <g ref={setElement} />
}
