import { add, clamp, div, less, max, mul, neg, select, sqrt, square, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import { number, table } from '../../kinds'
import { interpolated, risingProblems } from '../interpolate'
import type { GroundBelow } from '../effects/effect'
import { defineSurrounding } from './surrounding'

type Rows = readonly (readonly Scalar[])[]

/** Ground whose height changes along x alone: straight between its points, level beyond them. */
export const groundProfile = defineSurrounding({
  name: 'groundProfile',
  label: 'ground profile',
  says: 'The height of the ground follows {profile} along x, its corners rounded over {rounding}.',
  about:
    'Height by x, straight between the points of the table and level beyond its ends. A corner that is rounded is a parabola over so much before and after it; what rests in a sharp one has no direction to stand on.',
  slots: {
    profile: table({
      label: 'profile',
      columns: [
        { label: 'x', unit: 'm' },
        { label: 'height', unit: 'm' },
      ],
      fill: [
        [0, 0],
        [1, 0.1],
      ],
    }),
    rounding: number({ label: 'rounding', unit: 'm', least: 0, otherwise: 0 }),
  },
  ground: (outside, x, _y, { rounding = 0 }) => {
    const rows = outside.rows('profile')
    return rounding > 0 ? roundedGround(rows, outside.number('rounding'), x) : sharpGround(rows, x)
  },
  contradictions: ({ profile }) => risingProblems(profile, 'profile'),
})

/** Slopes from point to point. */
function slopesOf(rows: Rows): readonly Scalar[] {
  return rows.slice(0, -1).map(([x0, y0], i) => {
    const [x1, y1] = rows[i + 1]! as [Scalar, Scalar]
    return div(sub(y1, y0!), sub(x1, x0!))
  })
}

function sharpGround(rows: Rows, x: Scalar): GroundBelow {
  const slope = slopesOf(rows).reduceRight<Scalar>(
    (after, here, i) => select(less(x, rows[i + 1]![0]!), i === 0 ? select(less(x, rows[0]![0]!), 0, here) : here, after),
    0,
  )
  return { height: interpolated(rows, x), normal: across(slope) }
}

/** From the left: at each point the slope grows by what it changes there, evenly over the rounding before and after. */
function roundedGround(rows: Rows, rounding: Scalar, x: Scalar): GroundBelow {
  const slopes = [0, ...slopesOf(rows), 0]
  const bends = rows.map(([at], i) => ({ change: sub(slopes[i + 1]!, slopes[i]!), past: sub(x, at!) }))
  const share = (past: Scalar) => clamp(div(add(past, rounding), mul(2, rounding)), 0, 1)
  const height = bends.map(({ change, past }) =>
    mul(change, add(mul(rounding, square(share(past))), max(0, sub(past, rounding)))),
  )
  const slope = sum(bends.map(({ change, past }) => mul(change, share(past))))
  return { height: add(rows[0]![1]!, sum(height)), normal: across(slope) }
}

function across(slope: Scalar): readonly [Scalar, Scalar, Scalar] {
  const up = div(1, sqrt(add(1, square(slope))))
  return [neg(mul(slope, up)), 0, up]
}
