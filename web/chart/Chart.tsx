import { useDeferredValue, useId, useMemo, useRef, useState } from 'react'
import { createPortal } from 'react-dom'
import { ChartMenu } from './ChartMenu'
import { Cursor } from './Cursor'
import type { CursorOf } from './cursor'
import { Curves } from './Curves'
import { Legend } from './Legend'
import { Plot } from './Plot'
import type { PlotLayer } from './Plot'
import { TableView } from './TableView'
import { placedOver } from './plotScales'
import type { Axis } from './axis'
import type { Series } from './series'

interface ChartProps {
  readonly title: string
  readonly unit: string
  readonly x: Axis
  readonly y: Axis
  readonly series: readonly Series[]
  /** What the table and the file of it show, where that is not the curves. */
  readonly tabled?: readonly Series[]
  /** A sentence that says what the chart shows. */
  readonly summary: string
  /** Drawn over the curves, on the chart's scales. */
  readonly children?: React.ReactNode
  readonly showX?: boolean
  /** None, or another one than that of its curves. */
  readonly legend?: React.ReactNode
  readonly heading?: React.ReactNode
  readonly margin?: { readonly left: number; readonly right: number }
  /** Whether something drawn over it can be taken hold of: then it is a group, not one picture. */
  readonly isHeld?: boolean
  /** Gives it a cursor that all charts of this axis share. */
  readonly cursor?: CursorOf
}

const usualMargin = { left: 46, right: 12 }

/** Frame, axes and grid by Recharts; curves as one path each on its scales, so that they follow a drag. */
export function Chart({
  title,
  unit,
  x,
  y,
  series,
  tabled = series,
  summary,
  children,
  showX = true,
  legend = true,
  heading,
  margin = usualMargin,
  isHeld = false,
  cursor,
}: ChartProps) {
  const [asTable, setAsTable] = useState(false)
  const plot = useRef<HTMLDivElement>(null)
  const [layer, setLayer] = useState<PlotLayer>()
  const id = useId()
  // curves follow a hand at once, their frame a moment later
  const framed = useDeferredValue(x)
  const scales = useMemo(() => layer && (framed === x ? layer.scales : placedOver(layer.scales, x)), [layer, framed, x])
  return (
    <figure className="h-full min-h-0 min-w-0 flex flex-col" aria-labelledby={id}>
      <figcaption className="flex flex-wrap items-center gap-x-2 min-h-6 shrink-0 pr-1">
        {heading ?? (
          <h3 id={id} className="whitespace-nowrap">
            {title} <span className="font-normal text-mist">{unit}</span>
          </h3>
        )}
        <div className="ml-auto max-w-full flex items-center gap-2">
          {legend === true ? <Legend series={series} /> : legend}
          <ChartMenu title={title} series={tabled} plot={plot} asTable={asTable} onTable={setAsTable} />
        </div>
      </figcaption>
      {asTable ? (
        <TableView title={title} series={tabled} xName={x.label ?? 'x'} unit={unit} />
      ) : (
        <div
          ref={plot}
          className="grow min-h-0 min-w-0 relative overflow-hidden"
          role={isHeld || cursor !== undefined ? 'group' : 'img'}
          aria-label={`${title}. ${summary}`}
        >
          <Plot x={framed} y={y} showX={showX} margin={margin} onLayer={setLayer} />
          {layer !== undefined &&
            createPortal(
              <Curves series={series} scales={scales!}>
                {children}
                {cursor !== undefined && <Cursor of={cursor} x={x} series={series} title={title} />}
              </Curves>,
              layer.element,
            )}
        </div>
      )}
    </figure>
  )
}
