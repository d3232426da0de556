import { add, clamp, div, floor, lookup, mul, neg, sqrt, square, sub } from '../../expression'
import type { Scalar } from '../../expression'
import { number, table } from '../../kinds'
import { defineSurrounding } from './surrounding'

/** Ground given by heights on a square grid, bilinear between them. */
export const heightField = defineSurrounding({
  name: 'heightField',
  label: 'height field',
  says: 'The ground is given by {heights}, {spacing} apart, from {west} and {south}.',
  about:
    'Heights on a square grid: a row goes along x, the rows along y. Bilinear between the points, the edge goes on beyond. The heights are fixed when a program is made.',
  slots: {
    heights: table({
      label: 'heights',
      fill: [
        [0, 0],
        [0, 0],
      ],
    }),
    spacing: number({ label: 'spacing', unit: 'm', above: 0 }),
    west: number({ label: 'x of the first column', unit: 'm' }),
    south: number({ label: 'y of the first row', unit: 'm' }),
  },
  ground: (outside, x, y, part) => {
    const heights = part.heights
    const width = heights[0]!.length
    const field = fieldOf(heights)
    const spacing = outside.number('spacing')
    const along = (at: Scalar, from: Scalar, count: number): { cell: Scalar; share: Scalar } => {
      const place = clamp(div(sub(at, from), spacing), 0, count - 1)
      const cell = clamp(floor(place), 0, count - 2)
      return { cell, share: sub(place, cell) }
    }
    const [u, v] = [along(x, outside.number('west'), width), along(y, outside.number('south'), heights.length)]
    const corner = (i: number, j: number) => lookup(field, add(add(mul(add(v.cell, j), width), u.cell), i))
    const [a, b, c, d] = [corner(0, 0), corner(1, 0), corner(0, 1), corner(1, 1)]
    const low = add(a, mul(u.share, sub(b, a)))
    const high = add(c, mul(u.share, sub(d, c)))
    const gx = div(add(mul(sub(1, v.share), sub(b, a)), mul(v.share, sub(d, c))), spacing)
    const gy = div(sub(high, low), spacing)
    const up = div(1, sqrt(add(1, add(square(gx), square(gy)))))
    return { height: add(low, mul(v.share, sub(high, low))), normal: [neg(mul(gx, up)), neg(mul(gy, up)), up] }
  },
  contradictions: ({ heights }) => {
    const rows = heights
    const even = rows.length >= 2 && rows[0]!.length >= 2 && rows.every((row) => row.length === rows[0]!.length)
    if (even) return []
    const what = 'The heights do not make a grid of at least two by two.'
    return [{ slot: 'heights', what, remedy: 'Give every row the same number of heights.' }]
  },
})

/** One table a grid: equations that are written twice must name the same one. */
const fields = new WeakMap<object, { readonly name: string; readonly values: readonly number[] }>()

function fieldOf(heights: readonly (readonly number[])[]): { readonly name: string; readonly values: readonly number[] } {
  const known = fields.get(heights)
  if (known !== undefined) return known
  const made = { name: 'heights', values: heights.flat() }
  fields.set(heights, made)
  return made
}
