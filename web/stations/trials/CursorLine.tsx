import { useEffect, useRef } from 'react'
import { shareUnder, usePlotScales } from '../../chart'
import { setCursor, useClock } from '../../state/clock'

/** The shared cursor over a strip; moves without React, and follows a press on the plot. */
export function CursorLine() {
  const scales = usePlotScales()
  const line = useRef<SVGLineElement>(null)
  useEffect(() => {
    if (scales === undefined) return
    const place = ({ cursor }: { cursor: number }) => {
      const x = String(scales.x(cursor))
      line.current?.setAttribute('x1', x)
      line.current?.setAttribute('x2', x)
    }
    place(useClock.getState())
    return useClock.subscribe(place)
  }, [scales])
  if (scales === undefined) return null
  const follow = (event: React.PointerEvent<SVGRectElement>) => {
    if (event.buttons !== 1) return
    setCursor(shareUnder(event).x * useClock.getState().end)
  }
  return (
    <g>
      <line ref={line} y1={scales.top} y2={scales.top + scales.height} stroke="var(--ink)" strokeWidth="1" pointerEvents="none" />
      <rect
        x={scales.left}
        y={scales.top}
        width={scales.width}
        height={scales.height}
        fill="transparent"
        onPointerDown={follow}
        onPointerMove={follow}
      />
    </g>
  )
}
