import { Decimal } from 'decimal.js'
import { describe, expect, it } from 'vitest'
import { acos, asin, atan, atan2, cos, exp, log, pow, sin, tan } from '../index'
import { twoOverPi } from './twoOverPi'

// Reference: decimal.js from the registry, an arbitrary-precision library that shares no code with ours.
Decimal.set({ precision: 60 })

/** A double as it is, not as its shortest decimal text. */
function exactly(x: number, Type = Decimal): Decimal {
  let scaled = x
  let exponent = 0
  while (!Number.isInteger(scaled)) {
    scaled *= 2
    exponent--
  }
  return new Type(BigInt(scaled).toString()).times(new Type(2).pow(exponent))
}

/** Units in the last place between a double and the exact value. */
function ulpError(value: number, exact: Decimal): number {
  const nearest = exact.toNumber()
  if (!Number.isFinite(nearest)) return Object.is(value, nearest) ? 0 : Infinity
  const exponent = nearest === 0 ? -1074 : Math.max(Math.floor(Math.log2(Math.abs(nearest))) - 52, -1074)
  const ulp = new Decimal(2).pow(exponent)
  return exactly(value).minus(exact).abs().div(ulp).toNumber()
}

/** Deterministic numbers in [0, 1). */
function* steps(count: number, start: number): Generator<number> {
  for (let i = 1; i <= count; i++) yield (i * 0.6180339887498949 + start) % 1
}

const limitUlp = 2 // the promise of the engine

function worst(value: (x: number) => number, exact: (x: Decimal) => Decimal, inputs: Iterable<number>): number {
  let most = 0
  for (const x of inputs) most = Math.max(most, ulpError(value(x), exact(exactly(x))))
  return most
}

const ranges: Record<string, [least: number, most: number][]> = {
  circular: [
    [-0.9, 0.9],
    [-10, 10],
    [-1e6, 1e6],
  ],
  unit: [
    [-1, 1],
    [0.99, 1],
    [-1e-8, 1e-8],
  ],
  wide: [
    [-2, 2],
    [-100, 100],
    [-1e10, 1e10],
  ],
  exponent: [
    [-1, 1],
    [-700, 700],
    [-745, -708],
  ],
}

const cases: [string, (x: number) => number, (x: Decimal) => Decimal, keyof typeof ranges][] = [
  ['sin', sin, (x) => x.sin(), 'circular'],
  ['cos', cos, (x) => x.cos(), 'circular'],
  ['tan', tan, (x) => x.tan(), 'circular'],
  ['asin', asin, (x) => x.asin(), 'unit'],
  ['acos', acos, (x) => x.acos(), 'unit'],
  ['atan', atan, (x) => x.atan(), 'wide'],
  ['exp', exp, (x) => x.exp(), 'exponent'],
]

describe.each(cases)('%s', (_name, value, exact, range) => {
  it.each(ranges[range]!)('is within 2 ulp from %d to %d', (least, most) => {
    const inputs = [...steps(150, 0.1)].map((u) => least + (most - least) * u)
    expect(worst(value, exact, inputs)).toBeLessThan(limitUlp)
  })
})

describe('huge arguments', () => {
  it('reduces them by the exact value of pi', () => {
    // cos of the largest double and of the double nearest to a multiple of pi/2, both classic hard cases:
    // J.-M. Muller, Elementary Functions, 2nd ed., ch. 9 (6381956970095103 2^797, quoted from memory); values by decimal.js
    const exact = (f: 'sin' | 'cos' | 'tan', x: number) => {
      const Wide = Decimal.clone({ precision: 420 })
      return exactly(x, Wide)[f]()
    }
    const hard = 6381956970095103 * 2 ** 797
    const inputs = [hard, Number.MAX_VALUE, 1e22, 123456789.125, -3.7e15, 2 ** 120, 1.5e6, -1e300, 1e6 + 1]
    for (const x of inputs) {
      expect(ulpError(sin(x), exact('sin', x))).toBeLessThan(1)
      expect(ulpError(cos(x), exact('cos', x))).toBeLessThan(1)
      expect(ulpError(tan(x), exact('tan', x))).toBeLessThan(limitUlp)
    }
  }, 60_000)

  it('keeps its digits beside multiples of pi/2', () => {
    // where the double nearest to a multiple lies nearest to it, all digits of the answer come from the tail of pi
    const halfPi = Decimal.acos(-1).div(2)
    const beside = Array.from({ length: 20_000 }, (_, k) => {
      const x = halfPi.times(k + 1).toNumber()
      return {
        x,
        far: exactly(x)
          .minus(halfPi.times(k + 1))
          .abs()
          .toNumber(),
      }
    }).sort((a, b) => a.far - b.far)
    for (const { x } of beside.slice(0, 6)) {
      expect(ulpError(sin(x), exactly(x).sin())).toBeLessThan(1)
      expect(ulpError(cos(x), exactly(x).cos())).toBeLessThan(1)
    }
  }, 60_000)

  it('has the digits of 2/pi right', () => {
    const Wide = Decimal.clone({ precision: 420 })
    let rest = new Wide(2).div(Wide.acos(-1))
    for (const piece of twoOverPi.values) {
      rest = rest.times(2 ** 24)
      expect(piece).toBe(rest.floor().toNumber())
      rest = rest.minus(rest.floor())
    }
  })
})

describe('log', () => {
  it('is within 2 ulp over all doubles', () => {
    const wide = [...steps(150, 0.3)].map((u) => 2 ** (-1074 + 2097 * u))
    const nearOne = [...steps(150, 0.7)].map((u) => 1 + (u - 0.5) * 0.1)
    expect(worst(log, (x) => x.ln(), [...wide, ...nearOne])).toBeLessThan(limitUlp)
  })
})

describe('pow', () => {
  it('is within 2 ulp, from subnormal to huge results', () => {
    let most = 0
    for (const u of steps(300, 0.2)) {
      const x = 2 ** (40 * (((u * 7919) % 1) - 0.5))
      const y = (u - 0.5) * (1400 / Math.max(1, Math.abs(Math.log2(x))))
      most = Math.max(most, ulpError(pow(x, y), exactly(x).pow(exactly(y))))
    }
    expect(most).toBeLessThan(limitUlp)
  })
})

describe('atan2', () => {
  it('is within 2 ulp in all quadrants', () => {
    let most = 0
    for (const u of steps(200, 0.4)) {
      const y = (u - 0.5) * 3
      const x = ((u * 104729) % 1) - 0.5
      const pi = Decimal.acos(-1)
      const base = exactly(y).div(exactly(x)).atan()
      const exact = x > 0 ? base : y >= 0 ? base.plus(pi) : base.minus(pi)
      most = Math.max(most, ulpError(atan2(y, x), exact))
    }
    expect(most).toBeLessThan(limitUlp)
  })
})

describe('special cases', () => {
  // IEEE 754-2019, 9.2.1 (from memory); the host's own functions follow the same list for these arguments.
  const odd = [0, -0, 1, -1, 0.5, -0.5, 2, 3, -3, 1e300, -1e300, 5e-324, Infinity, -Infinity, NaN]
  it.each(odd)('agree with the standard at %d', (x) => {
    for (const name of ['sin', 'cos', 'tan', 'asin', 'acos', 'atan', 'exp', 'log'] as const) {
      const ours = { sin, cos, tan, asin, acos, atan, exp, log }[name](x)
      const theirs = Math[name](x)
      if (Number.isFinite(theirs) && theirs !== 0) expect(ours).toBeNear(theirs, { relative: 1e-14 })
      else expect(ours).toBe(theirs)
    }
    for (const y of odd) {
      const wanted = x === 1 || (x === -1 && Math.abs(y) === Infinity) ? 1 : Math.pow(x, y) // ECMAScript differs from IEEE here
      if (Number.isFinite(wanted) && wanted !== 0) expect(pow(x, y)).toBeNear(wanted, { relative: 4e-16 })
      else expect([x, y, pow(x, y)]).toEqual([x, y, wanted])
      const angle = Math.atan2(x, y)
      if (Number.isNaN(angle)) expect(atan2(x, y)).toBeNaN()
      else expect(atan2(x, y)).toBeNear(angle, { relative: 1e-15 })
      if (angle === 0) expect(atan2(x, y)).toBe(angle)
    }
  })
})
