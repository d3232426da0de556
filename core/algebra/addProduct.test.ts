import { describe, expect, it } from 'vitest'
import { numbersFrom } from '../tests/randomGraph'
import { addProduct, multiply } from './index'

describe('a product added to what is there', () => {
  it.each([1, 2, 3, 4, 5, 7, 8, 13])('is the same for %d rows as by whole matrices', (rows) => {
    const next = numbersFrom(rows)
    const columns = 3
    const m = Array.from({ length: rows }, () => Array.from({ length: columns }, next))
    const x = Array.from({ length: columns }, next)
    const before = Array.from({ length: rows }, next)
    const out = Float64Array.from(before)
    addProduct(Float64Array.from(m.flat()), Float64Array.from(x), out)
    const whole = multiply(
      m,
      x.map((value) => [value]),
    ).map(([value], i) => before[i]! + value!)
    expect([...out]).toBeNear(whole, { absolute: 1e-14 })
  })
})
