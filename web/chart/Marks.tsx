import { useId } from 'react'
import { usePlotScales } from './plotScales'

interface MarkProps {
  readonly at: number
  readonly label?: string
  readonly tone?: 'ink' | 'coral' | 'plum' | 'kelp' | 'mist'
  readonly dash?: string
  readonly opacity?: number
}

/** A value on the x axis: design line, cue time. */
export function VerticalMark({ at, label, tone = 'ink', dash, opacity }: MarkProps) {
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
        strokeOpacity={opacity}
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

interface BandProps {
  readonly xs: readonly number[]
  readonly least: readonly number[]
  readonly most: readonly number[]
  readonly tone?: keyof typeof bandLooks
}

const bandLooks = {
  /** Where the answers of a spread are. */
  spread: { fill: 'var(--slate)', fillOpacity: 0.16, stroke: 'var(--slate)', strokeOpacity: 0.4, strokeWidth: 0.7 },
  /** Where a check holds. */
  calm: { fill: 'var(--band)', stroke: 'none' },
} as const

/** All that lies between two curves. */
export function Band({ xs, least, most, tone = 'spread' }: BandProps) {
  const scales = usePlotScales()
  if (scales === undefined || xs.length === 0) return null
  // far outside is clipped anyway; it must only stay a number
  const y = (value: number) => Math.min(Math.max(scales.y(value), -1e4), 1e4).toFixed(1)
  const along = (ys: readonly number[], order: readonly number[]) =>
    order.flatMap((i) => (Number.isFinite(ys[i]) ? [`${scales.x(xs[i]!).toFixed(1)} ${y(ys[i]!)}`] : []))
  const forth = xs.map((_, i) => i)
  const points = [...along(most, forth), ...along(least, [...forth].reverse())]
  return (
    <Clipped>
      <path d={`M${points.join('L')}Z`} {...bandLooks[tone]} pointerEvents="none" data-band={tone} />
    </Clipped>
  )
}

/** What is drawn over a chart as far as it lies on the plot. */
export function Clipped({ children }: { readonly children: React.ReactNode }) {
  const scales = usePlotScales()
  const clip = useId()
  if (scales === undefined) return null
  return (
    <>
      <clipPath id={clip}>
        <rect x={scales.left} y={scales.top} width={scales.width} height={scales.height} />
      </clipPath>
      <g clipPath={`url(#${clip})`}>{children}</g>
    </>
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
