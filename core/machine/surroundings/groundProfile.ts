import { add, div, less, mul, neg, select, sqrt, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { table } from '../../kinds'
import { interpolated, risingProblems } from '../interpolate'
import { defineSurrounding } from './surrounding'

/** Ground whose height changes along x alone: straight between its points, level beyond them. */
export const groundProfile = defineSurrounding({
  name: 'groundProfile',
  label: 'ground profile',
  says: 'The height of the ground follows {profile} along x.',
  about: 'Height by x, straight between the points of the table and level beyond its ends.',
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
  },
  ground: (outside, x) => {
    const rows = outside.rows('profile')
    const slopeBefore = rows.slice(0, -1).map(([x0, y0], i) => {
      const [x1, y1] = rows[i + 1]! as [Scalar, Scalar]
      return { from: x0!, until: x1, slope: div(sub(y1, y0!), sub(x1, x0!)) }
    })
    const slope = slopeBefore.reduceRight<Scalar>(
      (after, { from, until, slope: here }, i) => select(less(x, until), i === 0 ? select(less(x, from), 0, here) : here, after),
      0,
    )
    const up = div(1, sqrt(add(1, square(slope))))
    return { height: interpolated(rows, x), normal: [neg(mul(slope, up)), 0, up] }
  },
  contradictions: ({ profile }) => risingProblems(profile, 'profile'),
})
