import { describe, expect, it } from 'vitest'
import { eigenvalues, exponentialOf, multiply, plusMatrix, times, zeros } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import { minimalRealization, placePoles, poles, sampledWithHold, transferFunction, transmissionZeros } from './index'
import type { StateSpace } from './index'
import { expectDone } from '../tests/expectDone'
import { numbersFrom } from '../tests/randomGraph'

/** Random systems, and the same in other units of states, inputs and outputs: over eight decades. */
const cases = Array.from({ length: 24 }, (_, seed) => {
  const random = numbersFrom(7919 * (seed + 1))
  const n = 2 + (seed % 6)
  const entries = (rows: number, columns: number): number[][] =>
    Array.from({ length: rows }, () => Array.from({ length: columns }, () => 2 * random() - 1))
  const plain: StateSpace = {
    ...{ a: entries(n, n), b: entries(n, 2), c: entries(2, n), d: zeros(2, 2), dt: null },
    ...{ states: Array.from({ length: n }, (_, i) => `x${i}`), inputs: ['u', 'v'], outputs: ['y', 'z'] },
  }
  const units = (count: number) => Array.from({ length: count }, () => 10 ** (8 * random() - 4))
  const [x, u, y] = [units(n), units(2), units(2)] as [number[], number[], number[]]
  const other: StateSpace = {
    ...plain,
    a: plain.a.map((row, i) => row.map((value, j) => (value / x[i]!) * x[j]!)),
    b: plain.b.map((row, i) => row.map((value, j) => (value / x[i]!) * u[j]!)),
    c: plain.c.map((row, i) => row.map((value, j) => value * y[i]! * x[j]!)),
  }
  return { seed, plain, other, x, u, y }
})

/** One list against another, each with its nearest. */
function worstGap(found: readonly Complex[], wanted: readonly Complex[]): number {
  expect(found).toHaveLength(wanted.length)
  return Math.max(
    0,
    ...wanted.map((one) =>
      Math.min(...found.map(({ re, im }) => Math.hypot(re - one.re, im - one.im) / (1 + Math.hypot(one.re, one.im)))),
    ),
  )
}

function worst(found: Matrix, wanted: Matrix): number {
  const most = Math.max(...wanted.flat().map(Math.abs))
  return Math.max(...found.flatMap((row, i) => row.map((value, j) => Math.abs(value - wanted[i]![j]!)))) / most
}

describe.each(cases)('in other units, of case $seed,', ({ plain, other, x, u, y }) => {
  it('zeros are the same', () => {
    const oneWay = (system: StateSpace): StateSpace => ({ ...system, b: system.b.map(([first]) => [first!]), c: [system.c[0]!], d: [[0]], inputs: ['u'], outputs: ['y'] }) // prettier-ignore
    expect(worstGap(transmissionZeros(other)!, transmissionZeros(plain)!)).toBeLessThan(1e-8)
    expect(worstGap(transmissionZeros(oneWay(other))!, transmissionZeros(oneWay(plain))!)).toBeLessThan(1e-8)
  })

  it('as many states are needed', () => {
    expect(minimalRealization(other).a).toHaveLength(plain.a.length)
    // with a mode that nothing reaches
    const more = (system: StateSpace): StateSpace => ({
      ...system,
      a: [...system.a.map((row) => [...row, 0]), [...system.a.map(() => 0), -3]],
      ...{ b: [...system.b, [0, 0]], c: system.c.map((row) => [...row, 1]), states: [...system.states, 'alone'] },
    })
    expect(poles(minimalRealization(more(other)))).toHaveLength(plain.a.length)
  })

  it('samples and exponentials are the same, but for their units', () => {
    const [found, wanted] = [sampledWithHold(other, 0.7), sampledWithHold(plain, 0.7)]
    const back = found.a.map((row, i) => row.map((value, j) => (value * x[i]!) / x[j]!))
    expect(worst(back, wanted.a)).toBeLessThan(1e-12)
    expect(worst(found.b.map((row, i) => row.map((value, j) => (value * x[i]!) / u[j]!)), wanted.b)).toBeLessThan(1e-12) // prettier-ignore
    const e = exponentialOf(times(other.a, 3)).map((row, i) => row.map((value, j) => (value * x[i]!) / x[j]!))
    expect(worst(e, exponentialOf(times(plain.a, 3)))).toBeLessThan(1e-11)
  })

  it('placed poles are where they were asked for', () => {
    const wanted = plain.a.map((_, i) => ({ re: -1 - 0.5 * i, im: 0 }))
    const { k } = expectDone(placePoles(other, wanted))
    const closed = eigenvalues(plusMatrix(other.a, times(multiply(other.b, k), -1)))!
    expect(worstGap(closed, wanted)).toBeLessThan(1e-6)
  })

  it('transfer functions are the same, but for their units', () => {
    const [found, wanted] = [transferFunction(other, 1, 0)!, transferFunction(plain, 1, 0)!]
    expect(found.denominator).toBeNear(wanted.denominator, { relative: 1e-10, absolute: 1e-12 })
    const back = found.numerator.map((value) => value / u[1]! / y[0]!)
    expect(back).toBeNear(wanted.numerator, { relative: 1e-8, absolute: 1e-10 })
  })
})
