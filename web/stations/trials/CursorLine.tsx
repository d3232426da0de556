import { useEffect, useEffectEvent, useRef } from 'react'
import { shareUnder, usePlotScales } from '../../chart'
import { comeCloser, moveWindow, setCursor, useClock } from '../../state/clock'

/** How much closer one turn of a wheel comes. */
const closerByTurn = 1.25

/** The shared cursor over a strip; moves without React, and follows a press on the plot. With Ctrl the wheel comes closer, with Shift a drag moves on. */
export function CursorLine() {
  const scales = usePlotScales()
  const line = useRef<SVGLineElement>(null)
  const plot = useRef<SVGRectElement>(null)
  useEffect(() => {
    if (scales === undefined) return
    const place = ({ cursor }: { cursor: number }) => {
      const x = String(scales.x(cursor))
      line.current?.setAttribute('x1', x)
      line.current?.setAttribute('x2', x)
      const [from, to] = scales.domain
      line.current?.setAttribute('visibility', cursor >= from && cursor <= to ? 'visible' : 'hidden')
    }
    place(useClock.getState())
    return useClock.subscribe(place)
  }, [scales])
  const timeAt = (share: number) => (scales === undefined ? 0 : scales.domain[0] + share * (scales.domain[1] - scales.domain[0]))
  const onWheel = useEffectEvent((event: WheelEvent) => {
    if (!event.ctrlKey || plot.current === null) return
    // else the page itself would grow
    event.preventDefault()
    const { left, width } = plot.current.getBoundingClientRect()
    comeCloser(event.deltaY < 0 ? closerByTurn : 1 / closerByTurn, timeAt((event.clientX - left) / width))
  })
  const isThere = scales !== undefined
  useEffect(() => {
    const own = plot.current
    own?.addEventListener('wheel', onWheel, { passive: false })
    return () => own?.removeEventListener('wheel', onWheel)
  }, [isThere])
  if (scales === undefined) return null
  const follow = (event: React.PointerEvent<SVGRectElement>) => {
    if (event.buttons !== 1) return
    if (event.shiftKey) moveWindow((-event.movementX / scales.width) * (scales.domain[1] - scales.domain[0]))
    else setCursor(timeAt(shareUnder(event).x))
  }
  return (
    <g>
      <line ref={line} y1={scales.top} y2={scales.top + scales.height} stroke="var(--ink)" strokeWidth="1" pointerEvents="none" />
      <rect
        ref={plot}
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
