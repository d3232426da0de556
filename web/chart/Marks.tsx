import { usePlotScales } from './plotScales'

interface MarkProps {
  readonly at: number
  readonly label?: string
  readonly tone?: 'ink' | 'coral' | 'plum' | 'kelp' | 'mist'
  readonly dash?: string
}

/** A value on the x axis: design line, cue time. */
export function VerticalMark({ at, label, tone = 'ink', dash }: MarkProps) {
  const scales = usePlotScales()
  if (scales === undefined) return null
  const x = scales.x(at)
  if (!(x >= scales.left && x <= scales.left + scales.width)) return null
  const right = x > scales.left + scales.width * 0.75
  return (
    <g>
      <line
        x1={x}
        x2={x}
        y1={scales.top}
        y2={scales.top + scales.height}
        stroke={`var(--${tone})`}
        strokeWidth="1"
        strokeDasharray={dash}
      />
      {label !== undefined && (
        <Label x={x + (right ? -5 : 5)} y={scales.top + 12} anchor={right ? 'end' : 'start'} tone={tone} text={label} />
      )}
    </g>
  )
}

/** A value on the y axis: limit, 0 dB, -180°. */
export function HorizontalMark({ at, label, tone = 'mist', dash }: MarkProps) {
  const scales = usePlotScales()
  if (scales === undefined) return null
  const y = scales.y(at)
  if (!(y >= scales.top && y <= scales.top + scales.height)) return null
  return (
    <g>
      <line
        x1={scales.left}
        x2={scales.left + scales.width}
        y1={y}
        y2={y}
        stroke={`var(--${tone})`}
        strokeWidth="1"
        strokeDasharray={dash}
      />
      {label !== undefined && <Label x={scales.left + scales.width - 5} y={y - 4} anchor="end" tone={tone} text={label} />}
    </g>
  )
}

/** A bar between two values at one place, with its words: a margin. */
export function Span({
  x: at,
  from,
  to,
  label,
}: {
  readonly x: number
  readonly from: number
  readonly to: number
  readonly label: string
}) {
  const scales = usePlotScales()
  if (scales === undefined) return null
  const x = scales.x(at)
  if (!(x >= scales.left && x <= scales.left + scales.width)) return null
  const right = x > scales.left + scales.width * 0.7
  const middle = (scales.y(from) + scales.y(to)) / 2
  return (
    <g>
      <line x1={x} x2={x} y1={scales.y(from)} y2={scales.y(to)} stroke="var(--kelp)" strokeWidth="2.5" />
      <circle cx={x} cy={scales.y(to)} r="3.2" fill="var(--kelp)" />
      <Label x={x + (right ? -7 : 7)} y={middle + 4} anchor={right ? 'end' : 'start'} tone="kelp" text={label} />
    </g>
  )
}

interface LabelProps {
  readonly x: number
  readonly y: number
  readonly anchor: 'start' | 'end'
  readonly tone: string
  readonly text: string
}

/** Words on a plot, with a halo so that they stay legible over curves. */
function Label({ x, y, anchor, tone, text }: LabelProps) {
  const fill = tone === 'coral' ? 'var(--coral-text)' : `var(--${tone})`
  return (
    <text
      x={x}
      y={y}
      textAnchor={anchor}
      fontSize="11"
      fontFamily="var(--sans)"
      fill={fill}
      stroke="var(--chalk)"
      strokeWidth="3"
      paintOrder="stroke"
    >
      {text}
    </text>
  )
}
