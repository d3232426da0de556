import type { Axis } from './axis'
import { placeCursor, useCursors } from './cursor'
import type { CursorOf } from './cursor'
import { VerticalMark } from './Marks'
import { shareUnder, usePlotScales } from './plotScales'
import { readingOf } from './readingOf'
import type { Series } from './series'

interface CursorProps {
  readonly of: CursorOf
  readonly x: Axis
  readonly series: readonly Series[]
  readonly title: string
}

const wide = 10

/** A cursor over a chart, shared by all charts of its axis: follows the pointer, or the arrow keys by a hundredth of the axis. */
export function Cursor({ of, x, series, title }: CursorProps) {
  const scales = usePlotScales()
  const at = useCursors((cursors) => cursors[of])
  if (scales === undefined) return null
  const [least, most] = x.domain
  const isLog = x.scale === 'log'
  const valueAt = (share: number) => (isLog ? least * (most / least) ** share : least + (most - least) * share)
  const shareOf = (value: number) => (isLog ? Math.log(value / least) / Math.log(most / least) : (value - least) / (most - least))
  const byKey = (event: React.KeyboardEvent) => {
    if (event.key === 'Escape') return placeCursor(of, undefined)
    const direction = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (direction === undefined) return
    event.preventDefault()
    const moved = (at === undefined ? 0.5 : shareOf(at)) + (direction * (event.shiftKey ? wide : 1)) / 100
    placeCursor(of, valueAt(Math.min(Math.max(moved, 0), 1)))
  }
  const isShown = at !== undefined && at >= least && at <= most
  const readings = isShown ? series.flatMap((one) => readingOf(one, at)) : []
  const words = isShown ? `${short(at)}: ${readings.map(({ name, value }) => `${name} ${short(value)}`).join(', ')}` : 'not set'
  return (
    <g>
      {isShown && (
        <g pointerEvents="none">
          <VerticalMark at={at} opacity={0.6} />
          {readings.map(({ name, value, color }) => (
            <circle key={name} cx={scales.x(at)} cy={scales.y(value)} r="2.6" fill={`var(${color})`} />
          ))}
          <text
            x={scales.left + scales.width - 4}
            y={scales.top + scales.height - 5}
            textAnchor="end"
            fontSize="11"
            className="number"
            fill="var(--ink)"
            stroke="var(--chalk)"
            strokeWidth="3"
            paintOrder="stroke"
          >
            {words}
          </text>
        </g>
      )}
      <rect
        x={scales.left}
        y={scales.top}
        width={scales.width}
        height={scales.height}
        fill="transparent"
        role="slider"
        tabIndex={0}
        aria-label={`Cursor of ${title}, ${of}`}
        aria-valuemin={least}
        aria-valuemax={most}
        aria-valuenow={at ?? least}
        aria-valuetext={words}
        onPointerMove={(event) => placeCursor(of, valueAt(shareUnder(event).x))}
        onPointerLeave={() => placeCursor(of, undefined)}
        onKeyDown={byKey}
      />
    </g>
  )
}

const short = (value: number) => String(Number(value.toPrecision(3)))
