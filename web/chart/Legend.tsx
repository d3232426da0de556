import { readingOf } from './readingOf'
import { strokeOf } from './series'
import type { Series } from './series'

interface LegendProps {
  readonly series: readonly Series[]
  /** Where each is read, on the x axis. */
  readonly at?: number
}

/** The line of each curve with its name, and what it shows at a place. */
export function Legend({ series, at }: LegendProps) {
  // members of a family are told by nothing else
  const wraps = series.some(({ member }) => member !== undefined)
  return (
    <ul
      className={`flex gap-x-1.5 text-[11px] leading-[14px] text-mist whitespace-nowrap overflow-hidden ${wraps ? 'flex-wrap' : ''}`}
    >
      {series.map((one) => {
        const { name } = one
        const { color, width, dash, shape } = strokeOf(one)
        return (
          <li key={name} className="flex items-center gap-1">
            <svg width="16" height="6" aria-hidden="true">
              <line
                x1="1"
                x2="15"
                y1="3"
                y2="3"
                stroke={`var(${color})`}
                strokeWidth={width}
                strokeDasharray={shape === 'dots' ? '0.1 5' : dash}
                strokeLinecap={shape === 'dots' ? 'round' : 'butt'}
              />
            </svg>
            {name}
            {at !== undefined && <b className="number font-medium text-ink">{readingAt(one, at)}</b>}
          </li>
        )
      })}
    </ul>
  )
}

function readingAt(series: Series, at: number): string {
  const [reading] = readingOf(series, at)
  return reading === undefined ? '' : String(Number(reading.value.toPrecision(3)))
}
