import { usePlotScales } from './plotScales'

interface PointsProps {
  readonly at: readonly { readonly x: number; readonly y: number }[]
  readonly shape: 'cross' | 'ring' | 'dot'
  readonly tone: 'ink' | 'kelp' | 'slate' | 'mist' | 'coral'
}

const half = 4.5

/** Points of a plane: poles as crosses, zeros as rings, a trace as dots. */
export function Points({ at, shape, tone }: PointsProps) {
  const scales = usePlotScales()
  if (scales === undefined) return null
  const inside = at
    .map(({ x, y }) => ({ x: scales.x(x), y: scales.y(y) }))
    .filter(
      ({ x, y }) =>
        x >= scales.left - 1 && x <= scales.left + scales.width + 1 && y >= scales.top - 1 && y <= scales.top + scales.height + 1,
    )
  const drawn = inside.map(({ x, y }) => marks[shape](x.toFixed(1), y.toFixed(1))).join('')
  return (
    <path
      d={drawn}
      fill="none"
      stroke={`var(--${tone})`}
      strokeWidth={shape === 'dot' ? 2.2 : 1.8}
      strokeLinecap={shape === 'dot' ? 'round' : 'butt'}
    />
  )
}

const marks: Readonly<Record<PointsProps['shape'], (x: string, y: string) => string>> = {
  cross: (x, y) => `M${x} ${y}m${-half} ${-half}l${2 * half} ${2 * half}m0 ${-2 * half}l${-2 * half} ${2 * half}`,
  ring: (x, y) => `M${x} ${y}m${-half} 0a${half} ${half} 0 1 0 ${2 * half} 0a${half} ${half} 0 1 0 ${-2 * half} 0`,
  dot: (x, y) => `M${x} ${y}h0.01`,
}
