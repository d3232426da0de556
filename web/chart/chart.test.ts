import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { decimated, drawnRows, rowsOver } from './decimate'
import { seriesToCsv, seriesToTable } from './export'
import { equalScales, niceDomain, niceTicks, tickWords } from './scales'
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
    expect(decimated([5, 6, 7], 10)).toEqual([0, 1, 2])
  })

  it('keeps a hole, wherever it lies in its column, and the peaks beside it', () => {
    for (let at = 0; at < 100; at++) {
      const ys = Array.from({ length: 1000 }, (_, i) => (i === 500 + at ? NaN : i === 500 + ((at + 7) % 100) ? 9 : Math.sin(i)))
      const kept = decimated(ys, 10)
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
          const kept = decimated(ys, columns)
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

describe('a part of a long curve', () => {
  const xs = Float64Array.from({ length: 100_000 }, (_, i) => i / 1000)
  // one peak of a single row
  const ys = xs.map((_, i) => (i === 54_321 ? 9 : 0))

  it('is its rows, with one beyond either end', () => {
    expect(rowsOver(xs, [10, 20])).toEqual([9_999, 20_000])
    expect(rowsOver(xs, [-5, 200])).toEqual([0, 99_999])
    expect(rowsOver([], [0, 1])).toEqual([0, -1])
  })

  it('is drawn with every row once it is short enough, and never without its peak', () => {
    expect(drawnRows(xs, ys, 400, [0, 100])).toContain(54_321)
    expect(drawnRows(xs, ys, 400, [54, 54.5])).toEqual(Array.from({ length: 502 }, (_, i) => 53_999 + i))
    expect(drawnRows(xs, ys, 400, [60, 61])).not.toContain(54_321)
  })

  it('of a way that turns back is all of it, evenly', () => {
    const [round, up] = [xs.map((x) => Math.cos(x)), xs.map((x) => Math.sin(x))]
    const rows = drawnRows(round, up, 400, [0, 0.1])
    expect([rows[0], rows.at(-1)]).toEqual([0, 99_999])
    expect(rows.length).toBeLessThanOrEqual(4002)
  })
})

describe('equal scales', () => {
  it('make one across as long as one up, and cut nothing off', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-3, max: 1e3, noNaN: true }),
        fc.double({ min: 1e-3, max: 1e3, noNaN: true }),
        (wide, high) => {
          const [x, y] = equalScales([1, 1 + wide], [-high, 0], 2)
          expect((x[1] - x[0]) / (y[1] - y[0])).toBeCloseTo(2, 6)
          expect(x[0]).toBeLessThanOrEqual(1)
          expect(y[1]).toBeGreaterThanOrEqual(-1e-12)
          expect(Math.min(x[1] - x[0] - wide, y[1] - y[0] - high)).toBeLessThanOrEqual(1e-9 * (wide + high))
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
    const one = [{ name: 'height', role: 'actual' as const, xs: [0, 1], ys: [0, 0.5] }]
    expect(seriesToTable(one)).toBe('height x\theight\n0\t0\n1\t0.5\n')
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
