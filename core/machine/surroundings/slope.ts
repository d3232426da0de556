import { add, cos, div, mul, neg, sin, sqrt, square } from '../../expression'
import { number } from '../../kinds'
import { defineSurrounding } from './surrounding'

/** Even ground that rises in one direction. */
export const slope = defineSurrounding({
  name: 'slope',
  label: 'sloping ground',
  says: 'The ground rises by {grade} for each metre towards {heading}, from {level} on at the origin.',
  about: 'A plane: height = level + grade times the way along its heading (from x, turning left).',
  slots: {
    grade: number({ label: 'grade', unit: '', least: -2, most: 2, note: 'rise over run' }),
    heading: number({ label: 'heading', unit: 'rad' }),
    level: number({ label: 'level at the origin', unit: 'm', otherwise: 0 }),
  },
  ground: (outside, x, y) => {
    const [grade, heading] = [outside.number('grade'), outside.number('heading')]
    const [gx, gy] = [mul(grade, cos(heading)), mul(grade, sin(heading))]
    const up = div(1, sqrt(add(1, square(grade))))
    return { height: add(outside.number('level'), add(mul(gx, x), mul(gy, y))), normal: [neg(mul(gx, up)), neg(mul(gy, up)), up] }
  },
})
