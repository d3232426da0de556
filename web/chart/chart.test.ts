import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { decimated } from './decimate'
import { seriesToCsv } from './export'
import { niceDomain, niceTicks, tickWords } from './scales'
import { roleOfLetter, strokes } from './series'

describe('ticks of an axis', () => {
  it.each([
    [0, 10, 5, [0, 2, 4, 6, 8, 10]],
    [-0.3, 0.7, 5, [-0.2, 0, 0.2, 0.4, 0.6]],
    [0, 3, 3, [0, 1, 2, 3]],
    [5, 5, 4, [5]],
  ])('from %d to %d are round', (least, most, count, ticks) => {
    expect(niceTicks(least, most, count)).toEqual(ticks)
  })

  it('lie inside, rise evenly, and are steps of 1, 2 or 5 times a power of ten', () => {
    const span = fc.double({ min: 1e-6, max: 1e6, noNaN: true })
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), span, fc.integer({ min: 2, max: 12 }), (from, wide, count) => {
        const ticks = niceTicks(from, from + wide, count)
        const step = wide / count
        expect(ticks.length).toBeLessThanOrEqual(count + 1)
        for (const tick of ticks) {
          expect(tick).toBeGreaterThanOrEqual(from - 1e-6 * step - 1e-9 * Math.abs(from))
          expect(tick).toBeLessThanOrEqual(from + wide + 1e-6 * step + 1e-9 * Math.abs(from + wide))
        }
      }),
    )
  })
})

describe('the domain of an axis', () => {
  it('holds every curve and what must always be seen', () => {
    const [least, most] = niceDomain([[1, 2.7], new Float64Array([-0.4, 1])], [4])
    expect(least).toBeLessThanOrEqual(-0.4)
    expect(most).toBeGreaterThanOrEqual(4)
  })

  it('does not widen a curve that ends on a round number', () => {
    expect(niceDomain([[0, 2.5]])).toEqual([0, 2.5])
  })

  it('gives a level curve some room and survives one without numbers', () => {
    expect(niceDomain([[3, 3]])).toEqual([2, 4])
    expect(niceDomain([[NaN, Infinity]])).toEqual([0, 1])
    expect(niceDomain([])).toEqual([0, 1])
  })
})

describe('decimation', () => {
  it('keeps a short curve whole', () => {
    expect(decimated([0, 1, 2], [5, 6, 7], 10)).toEqual([0, 1, 2])
  })

  it('keeps a hole, wherever it lies in its column, and the peaks beside it', () => {
    for (let at = 0; at < 100; at++) {
      const ys = Array.from({ length: 1000 }, (_, i) => (i === 500 + at ? NaN : i === 500 + ((at + 7) % 100) ? 9 : Math.sin(i)))
      const kept = decimated(
        ys.map((_, i) => i),
        ys,
        10,
      )
      expect(kept).toContain(500 + at)
      expect(kept).toContain(500 + ((at + 7) % 100))
    }
  })

  it('never loses a peak, keeps the order and both ends', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ noNaN: true, noDefaultInfinity: true }), { minLength: 50, maxLength: 2000 }),
        fc.integer({ min: 3, max: 40 }),
        (ys, columns) => {
          const xs = ys.map((_, i) => i)
          const kept = decimated(xs, ys, columns)
          expect(kept.length).toBeLessThanOrEqual(Math.max(2 * columns + 1, Math.min(ys.length, 2 * columns)))
          expect(Math.max(...kept.map((i) => ys[i]!))).toBe(Math.max(...ys))
          expect(Math.min(...kept.map((i) => ys[i]!))).toBe(Math.min(...ys))
          expect(kept.every((i, k) => k === 0 || i > kept[k - 1]!)).toBe(true)
          expect(kept.at(-1)).toBe(ys.length - 1)
        },
      ),
    )
  })
})

describe('roles of signals', () => {
  it('differ by more than colour', () => {
    const looks = Object.values(strokes).map(({ dash, shape, width }) => `${dash} ${shape} ${width}`)
    expect(new Set(looks).size).toBe(looks.length)
  })

  it('give every pinned letter one', () => {
    expect(['A', 'B', 'C', 'D', 'E'].map(roleOfLetter)).toEqual(['runA', 'runB', 'runC', 'runD', 'runA'])
  })
})

describe('a chart as CSV', () => {
  it('gives each curve its own x column', () => {
    const csv = seriesToCsv([
      { name: 'height', role: 'actual', xs: [0, 1, 2], ys: [0, 0.5, 1] },
      { name: 'reference', role: 'reference', xs: [0], ys: [1] },
    ])
    // RFC 4180: lines end with CRLF, every line has as many fields as the header
    expect(csv).toBe('height x,height,reference x,reference\r\n0,0,0,1\r\n1,0.5,,\r\n2,1,,\r\n')
  })
})

it('numbers beside ticks are as short as they go', () => {
  expect([0, 0.25, -0.005, -0.0001, 0.00025, 250_000, -123.4567891].map(tickWords)).toEqual([
    '0',
    '0.25',
    '-0.005',
    '-1e-4',
    '2.5e-4',
    '2.5e5',
    '-123.457',
  ])
})
