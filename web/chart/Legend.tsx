import { strokes } from './series'
import type { Series } from './series'

export function Legend({ series }: { readonly series: readonly Series[] }) {
  return (
    <ul className="flex gap-1.5 text-[11px] leading-[14px] text-mist whitespace-nowrap overflow-hidden">
      {series.map(({ name, role }) => {
        const { color, width, dash, shape } = strokes[role]
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
          </li>
        )
      })}
    </ul>
  )
}
