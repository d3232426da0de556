import { expect, it } from 'vitest'
import { rowAt } from './index'

it('the row of a record at a time is the nearest, and an end where it goes beyond', () => {
  const time = Float64Array.from([0, 0.1, 0.2, 0.3])
  expect([-5, 0, 0.04, 0.06, 0.21, 0.3, 9].map((t) => rowAt({ time }, t))).toEqual([0, 0, 0, 1, 2, 3, 3])
  expect(rowAt({ time: Float64Array.of(0) }, 4)).toBe(0)
})
