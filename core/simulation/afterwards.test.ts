import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { heldBetween } from './afterwards'

/** Rows of one column beside another, of which a value is worked out that is the column itself. */
const rowsOf = (column: readonly number[]) => Float64Array.from(column.flatMap((value) => [value, -1]))
const made = (every: number) => heldBetween(every, [0], (values, limit = Infinity) => Math.min(values[0]!, limit))

describe('what is worked out once a run has ended', () => {
  it('stands from one fresh row to the next, also where only later rows are asked for', () => {
    const rows = rowsOf([3, 1, 4, 1, 5, 9, 2])
    expect([...made(3)(rows, 2, 0)]).toEqual([3, 3, 3, 1, 1, 1, 2])
    expect([...made(3)(rows, 2, 4)]).toEqual([1, 1, 2])
  })

  it('tells the row before the one that goes below as it is', () => {
    const rows = rowsOf([1, 1.5, 0.5, 2])
    expect([...made(1)(rows, 2, 0, { from: 0, below: 0.9 })]).toEqual([1, 1.5, 0.5, 0.9])
    // what is no less than what matters costs less, and is told as that
    expect([...made(1)(rows, 2, 0, { from: 0, below: 0.1 })]).toEqual([1, 1, 0.5, 0.5])
  })

  it('looked at for its least says of that, and of what is below, what all of it would', () => {
    const column = fc.array(fc.double({ min: 0, max: 4, noNaN: true }), { minLength: 4, maxLength: 40 })
    fc.assert(
      fc.property(
        column,
        fc.nat(3),
        fc.integer({ min: 1, max: 4 }),
        fc.double({ min: 0, max: 4, noNaN: true }),
        (given, from, every, below) => {
          const whole = made(every)(rowsOf(given), 2, 0).slice(from)
          const found = made(every)(rowsOf(given), 2, 0, { from, below }).slice(from)
          const least = Math.min(...whole)
          expect([Math.min(...found), found.indexOf(least)]).toEqual([least, whole.indexOf(least)])
          const first = whole.findIndex((value) => value < below)
          expect(found.findIndex((value) => value < below)).toBe(first)
          expect([...found].map((value, row) => value <= whole[row]!)).not.toContain(false)
          if (first > 0) expect(found[first - 1]).toBe(whole[first - 1])
        },
      ),
      { seed: 11 },
    )
  })
})
