import { add, div, mul, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { choice, table } from '../../kinds'
import { interpolated, piecewise, risingProblemsAt } from '../../machine'
import { cueSlots, defineCue } from './cue'

const rowsOf = (points: unknown) => points as readonly (readonly number[])[]

export const tableCue = defineCue({
  name: 'tableCue',
  label: 'table',
  lane: 'commands',
  says: 'From {at}, {loop} goes along {points}, {between}.',
  about:
    'The reference of the loop gets the value of the table added, its ends held: along straight lines, or along cubics that pass each point at the mean slope of its neighbours and end at rest (Catmull & Rom, 1974, from memory).',
  slots: {
    loop: cueSlots.loop,
    at: cueSlots.at,
    points: table({
      label: 'points',
      columns: [
        { label: 'time since', unit: 's' },
        { label: 'rise', unit: '' },
      ],
      fill: [
        [0, 0],
        [1, 1],
      ],
    }),
    between: choice({ label: 'between points', options: { straight: 'straight', smooth: 'smoothly' }, otherwise: 'straight' }),
  },
  value: (t, read, { points, between }) => {
    const rows = rowsOf(points).map((_, i) => [read(`points.${i}.0`), read(`points.${i}.1`)] as const)
    const since = sub(t, read('at'))
    return between === 'smooth' ? smoothly(rows, since) : interpolated(rows, since)
  },
  ends: (read, { points }) => add(read('at'), read(`points.${rowsOf(points).length - 1}.0`)),
  problems: (where, { points }) => risingProblemsAt(where, rowsOf(points), 'points'),
})

/** Cubics from point to point, each passed at the slope between its neighbours; the ends at rest. */
function smoothly(rows: readonly (readonly [Scalar, Scalar])[], x: Scalar): Scalar {
  const last = rows.length - 1
  const slope = (i: number): Scalar =>
    i === 0 || i === last ? 0 : div(sub(rows[i + 1]![1], rows[i - 1]![1]), sub(rows[i + 1]![0], rows[i - 1]![0]))
  return piecewise(rows, x, (i) => {
    const [[x0, y0], [x1, y1]] = [rows[i]!, rows[i + 1]!]
    const width = sub(x1, x0)
    const s = div(sub(x, x0), width)
    const rise = sub(y1, y0)
    // y0 + s (m0 + s (3 rise - 2 m0 - m1 + s (m0 + m1 - 2 rise))), slopes over the width
    const [m0, m1] = [mul(slope(i), width), mul(slope(i + 1), width)]
    const inner = add(sub(sub(mul(3, rise), mul(2, m0)), m1), mul(s, sub(add(m0, m1), mul(2, rise))))
    return add(y0, mul(s, add(m0, mul(s, inner))))
  })
}
