import { describe, expect, it } from 'vitest'
import { numbersFrom } from '../tests/randomGraph'
import { expectDone } from '../tests/expectDone'
import { sortedPoles } from '../tests/poles'
import { reference } from '../tests/reference'
import { complex, identity, magnitude, multiply, norm, plusMatrix, schurForm, singularValues, times, transpose } from '../algebra'
import type { Complex, Matrix } from '../algebra'
import {
  balancedReduction,
  frequencyResponse,
  fromPolynomials,
  gainsAt,
  gramians,
  lyapunov,
  minimalRealization,
  names,
  norms,
  observable,
  placePoles,
  reachable,
  sampledWithHold,
  transferFunction,
  transmissionZeros,
} from './index'
import type { StateSpace } from './index'

interface System {
  readonly A: Matrix
  readonly B: Matrix
  readonly C: Matrix
  readonly D: Matrix
}
type Pole = { re: number; im: number }

function spaceOf({ A, B, C, D }: System, dt: number | null = null): StateSpace {
  return { a: A, b: B, c: C, d: D, dt, ...names(A.length, B[0]!.length, C.length) }
}

function random(seed: number, rows: number, columns: number): number[][] {
  const next = numbersFrom(seed)
  return Array.from({ length: rows }, () => Array.from({ length: columns }, () => next() * 2 - 1))
}

const real = (values: readonly number[]) => sortedPoles(values.map((re) => complex(re)))

describe('decompositions', () => {
  it.each([
    [1, 5, 5],
    [2, 7, 3],
    [3, 3, 7],
    [4, 1, 4],
  ])('singular values put the matrix together again, seed %i', (seed, rows, columns) => {
    const a = random(seed, rows, columns)
    const { u, values, v } = singularValues(a)
    expect(
      multiply(
        u.map((row) => row.map((value, k) => value * values[k]!)),
        transpose(v),
      ),
    ).toBeNear(a, { absolute: 1e-14 })
    expect(multiply(transpose(v), v)).toBeNear(identity(columns), { absolute: 1e-14 })
    expect([...values].sort((x, y) => y - x)).toEqual(values)
  })

  it('small singular values keep their digits', () => {
    const { values } = singularValues([[1e8, 0], [0, 1e-8], [1e8, 0]]) // prettier-ignore
    expect(values).toBeNear([1e8 * Math.SQRT2, 1e-8], { relative: 1e-14 })
  })

  it.each([2, 3, 6, 12, 25])('a Schur form puts the matrix together again, order %i', (n) => {
    const a = random(n, n, n)
    const { u, t } = schurForm(a)!
    const back = a.map((_, i) =>
      a.map((__, j) => sumOf(n, (k, l) => product(product(u[i]![k]!, t[k]![l]!), { re: u[j]![l]!.re, im: -u[j]![l]!.im }))),
    )
    expect(back.map((row) => row.map(({ re }) => re))).toBeNear(a, { absolute: 1e-13 * n })
    expect(sortedPoles(t.map((row, i) => row[i]!))).toBeNear(sortedPoles(a), { absolute: 1e-12 })
    expect(schurForm([[NaN]])).toBeUndefined()
  })
})

const product = (a: Complex, b: Complex) => ({ re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re })
function sumOf(n: number, term: (k: number, l: number) => Complex): Complex {
  let [re, im] = [0, 0]
  for (let k = 0; k < n; k++)
    for (let l = k; l < n; l++) {
      const one = term(k, l)
      re += one.re
      im += one.im
    }
  return { re, im }
}

describe('Lyapunov equations', () => {
  it('agree with scipy near the edge of stability', () => {
    // computed with scipy 1.17.1 solve_continuous_lyapunov and solve_discrete_lyapunov
    const { inputs, expected } = reference<Record<'A' | 'Ad' | 'Q', Matrix>, Record<'X_cont' | 'X_disc', Matrix>>('lyap-rand131')
    expect(expectDone(lyapunov(inputs.A, inputs.Q, null))).toBeNear(expected.X_cont, { relative: 1e-9 })
    expect(expectDone(lyapunov(inputs.Ad, inputs.Q, 1))).toBeNear(expected.X_disc, { relative: 1e-9 })
  })
  it.each([1, 2, 3])('hold for systems that are not stable, seed %i', (seed) => {
    const [a, q] = [random(seed, 8, 8), identity(8)]
    const x = expectDone(lyapunov(a, q, null))
    const ax = multiply(a, x)
    expect(plusMatrix(plusMatrix(ax, transpose(ax)), q)).toBeNear(times(q, 0), { absolute: 1e-10 * norm(x.flat()) })
    const sampled = expectDone(lyapunov(a, q, 0.1))
    const left = plusMatrix(multiply(multiply(a, sampled), transpose(a)), times(sampled, -1))
    expect(plusMatrix(left, q)).toBeNear(times(q, 0), { absolute: 1e-10 * norm(sampled.flat()) })
  })
  it('have no single solution where two poles add up to nothing', () => {
    expect(lyapunov([[1, 0], [0, -1]], identity(2), null)).toMatchObject({ problems: [{ what: expect.stringContaining('add up to 0') as string }] }) // prettier-ignore
    expect(lyapunov([[2, 0], [0, 0.5]], identity(2), 1)).toMatchObject({ problems: [{ what: expect.stringContaining('multiply to 1') as string }] }) // prettier-ignore
  })
})

describe('Gramians and norms', () => {
  it('of a system of two inputs and outputs are those of scipy', () => {
    const { inputs, expected } = reference<System, Record<'Wc' | 'Wo', Matrix>>('lti-gramian-hankel-rand31')
    const found = expectDone(gramians(spaceOf(inputs)))
    expect(found.controllability).toBeNear(expected.Wc, { absolute: 1e-12 })
    expect(found.observability).toBeNear(expected.Wo, { absolute: 1e-12 })
  })
  it('balanced, a system keeps the states that count most, and the bound holds', () => {
    const { inputs, expected } = reference<System, { hankel: number[] }>('lti-gramian-hankel-rand31')
    const whole = spaceOf(inputs)
    for (let order = 1; order <= 5; order++) {
      const { system, hankel, bound } = expectDone(balancedReduction(whole, order))
      expect(hankel).toBeNear(expected.hankel, { relative: 1e-9 })
      expect(system.a).toHaveLength(order)
      // Glover, International Journal of Control 39 (1984): the largest gain of the difference is at most the bound, and at
      // least the first value dropped
      const difference = expectDone(norms(apart(whole, system))).hinf
      expect(difference).toBeLessThanOrEqual(bound! * (1 + 1e-9) + 1e-12)
      if (order < 5) expect(difference).toBeGreaterThanOrEqual(hankel[order]! * (1 - 1e-9))
    }
    expect(balancedReduction(whole, 6)).toMatchObject({
      problems: [{ what: expect.stringContaining('none of a system') as string }],
    })
  })
  it('balanced, lags that add up miss by just the bound', () => {
    // of a sum of lags with gains above 0 the difference is largest at rest, and there it is twice what was dropped: Glover 1984
    const lag = (pace: number) => fromPolynomials([pace], [1, pace], null)
    const three = [1, 7, 40].map(lag)
    const whole = {
      ...three[0]!,
      a: [0, 1, 2].map((i) => [0, 1, 2].map((j) => (i === j ? three[i]!.a[0]![0]! : 0))),
      b: three.map(({ b }) => b[0]!),
      c: [three.map(({ c }) => c[0]![0]!)],
      states: ['x', 'y', 'z'],
    }
    for (const order of [1, 2]) {
      const { system, bound, hankel } = expectDone(balancedReduction(whole, order))
      expect(expectDone(norms(apart(whole, system))).hinf).toBeNear(bound!, { relative: 1e-6 })
      expect(bound).toBeNear(2 * hankel.slice(order).reduce((sum, value) => sum + value, 0), { relative: 1e-12 })
    }
  })
  it('balanced, an integrator behind a fast lag stays what it is', () => {
    const plant = fromPolynomials([300], [1, 100, 0], null)
    const { system, bound } = expectDone(balancedReduction(plant, 1))
    expect(bound).toBeUndefined()
    const [slow, whole] = [system, plant].map((one) => magnitude(frequencyResponse(one, 0.5)![0]![0]!))
    expect(slow).toBeNear(whole!, { relative: 0.03 })
    const sampled = expectDone(balancedReduction(sampledWithHold(plant, 0.01), 1)).system
    expect(magnitude(frequencyResponse(sampled, 0.5)![0]![0]!)).toBeNear(whole!, { relative: 0.03 })
  })
  it('agree with quadrature and Hamiltonian of a random system', () => {
    const { inputs, expected } = reference<System, Record<'h2' | 'hinf' | 'w_peak', number>>('lti-norms-rand21')
    const found = expectDone(norms(spaceOf(inputs)))
    expect(found.h2).toBeNear(expected.h2, { relative: 1e-10 })
    expect(found.hinf).toBeNear(expected.hinf, { relative: 1e-9 })
    expect(found.at).toBeNear(expected.w_peak, { relative: 1e-5 })
  })
  it('of what passes less than 1, and nothing, are that', () => {
    // common practice, no source: 0.5/(s + 1) passes 0.5 at rest; the square of its impulse response adds up to 1/8
    const lag = expectDone(norms(fromPolynomials([0.5], [1, 1], null)))
    expect([lag.hinf, lag.h2!]).toBeNear([0.5, Math.sqrt(1 / 8)], { relative: 1e-9 })
    expect(lag.at).toBe(0)
    expect(expectDone(norms(fromPolynomials([0], [1, 1], null)))).toMatchObject({ hinf: 0, h2: 0, at: 0 })
  })
  it('of a sampled system count what passes at once: 2, then 1, then nothing', () => {
    // the square sum of its impulse response (common practice, no source)
    const system = { a: [[0]], b: [[1]], c: [[1]], d: [[2]], dt: 1, states: ['x'], inputs: ['u'], outputs: ['y'] }
    expect(expectDone(norms(system)).h2).toBeNear(Math.sqrt(5), { relative: 1e-12 })
  })
  it('of a sampled system agree with its impulse response and a fine sweep', () => {
    const { inputs, expected } = reference<System, Record<'h2' | 'hinf' | 'w_peak_rad_per_sample' | 'nyquist_gain', number>>(
      'lti-discrete-norms-rand701',
    )
    const system = spaceOf(inputs, 1)
    const found = expectDone(norms(system))
    expect([found.h2!, found.hinf]).toBeNear([expected.h2, expected.hinf], { relative: 1e-9 })
    expect(found.at).toBeNear(expected.w_peak_rad_per_sample, { absolute: 1e-4 })
    expect(gainsAt(system, Math.PI)![0]).toBeNear(expected.nyquist_gain, { relative: 1e-9 })
  })
  it('find the top of a resonance that every grid misses', () => {
    // closed form: 1/(2 zeta sqrt(1 - zeta^2)) at wn sqrt(1 - 2 zeta^2)
    const { inputs, expected } = reference<{ num: number[]; den: number[] }, Record<'hinf' | 'h2' | 'w_peak', number>>(
      'lti-hinf-light-damping',
    )
    const found = expectDone(norms(fromPolynomials(inputs.num, inputs.den, null)))
    expect([found.hinf, found.h2!]).toBeNear([expected.hinf, expected.h2], { relative: 1e-8 })
    expect(found.at).toBeNear(expected.w_peak, { relative: 1e-8 })
  })
  it('are refused of what is not stable, and a direct path has no h2', () => {
    const unstable = fromPolynomials([1], [1, -1], null)
    expect(norms(unstable).kind).toBe('refused')
    expect(gramians(unstable).kind).toBe('refused')
    const direct = expectDone(norms(fromPolynomials([2, 1], [1, 1], null)))
    expect(direct.h2).toBeUndefined()
    expect(direct.hinf).toBeNear(2, { relative: 1e-9 }) // towards high frequencies
  })
})

describe('what inputs reach and outputs show', () => {
  const { inputs, expected } = reference<
    System,
    {
      rank_ctrb: number
      rank_obsv: number
      uncontrollable_modes: number[]
      unobservable_modes: number[]
      minimal_order: number
      tf_num: number[]
      tf_den: number[]
    }
  >('lti-minreal-4')
  it('names the hidden modes', () => {
    const reached = reachable(inputs.A, inputs.B)
    const seen = observable(inputs.A, inputs.C)
    expect(reached.reached[0]).toHaveLength(expected.rank_ctrb)
    expect(seen.reached[0]).toHaveLength(expected.rank_obsv)
    expect(sortedPoles(reached.fixed)).toBeNear(real(expected.uncontrollable_modes), { absolute: 1e-9 })
    expect(sortedPoles(seen.fixed)).toBeNear(real(expected.unobservable_modes), { absolute: 1e-9 })
  })
  it('leaves them out of the minimal realization', () => {
    const small = minimalRealization(spaceOf(inputs))
    expect(small.a).toHaveLength(expected.minimal_order)
    const { numerator, denominator } = transferFunction(small, 0, 0)!
    expect(numerator).toBeNear(expected.tf_num, { absolute: 1e-9 })
    expect(denominator).toBeNear(expected.tf_den, { absolute: 1e-9 })
  })
  it('takes states that nothing is linked with out as they are, digit by digit', () => {
    // x1 drives x2 and x3, the input drives x1, the output shows x2: x3 shows nowhere, nothing drives x4
    const small = minimalRealization(
      spaceOf({
        A: [
          [-1, 0, 0, 0],
          [1 / 3, -2, 0, 0.7],
          [5, 0, -3, 0],
          [0, 0, 0, -4],
        ],
        B: [[0.1], [0], [0], [0]],
        C: [[0, 0.3, 0, 0]],
        D: [[0]],
      }),
    )
    expect(small).toMatchObject({ a: [[-1, 0], [1 / 3, -2]], b: [[0.1], [0]], c: [[0, 0.3]] }) // prettier-ignore
  })
  it('finds nothing reached without any push, and all by pushes on every state', () => {
    expect(reachable([[1, 2], [3, 4]], [[0], [0]]).fixed).toHaveLength(2) // prettier-ignore
    expect(reachable([[1, 2], [3, 4]], identity(2)).fixed).toHaveLength(0) // prettier-ignore
    expect(minimalRealization(spaceOf({ A: [[-1]], B: [[0]], C: [[1]], D: [[3]] })).a).toHaveLength(0)
  })
})

describe('transmission zeros', () => {
  it('of a random system are those of the exact determinant', () => {
    const { inputs, expected } = reference<System, { transmission_zeros: Pole[] }>('lti-mimo-zeros-rand11')
    expect(sortedPoles(transmissionZeros(spaceOf(inputs))!)).toBeNear(sortedPoles(expected.transmission_zeros), {
      absolute: 1e-8,
    })
  })
  it('of the quadruple tank are those of the paper', () => {
    // K. H. Johansson, The quadruple-tank process, IEEE Trans. Control Systems Technology 8(3), 2000 (from memory)
    const { inputs, expected } = reference<System, { transmission_zeros: number[] }>('lti-quadtank-minphase')
    expect(sortedPoles(transmissionZeros(spaceOf(inputs))!)).toBeNear(real(expected.transmission_zeros), { relative: 1e-7 })
  })
  it('are seen where no element of the matrix has them, without those that cancel', () => {
    // Skogestad & Postlethwaite, Multivariable Feedback Control, 2nd ed., section 4.5 (number from memory)
    const lag = (gain: number, direct: number) => ({ gain, direct })
    // (s - 1)/(s + 2) = 1 - 3/(s + 2), and so on, element by element: four states
    const elements = [
      [lag(-3, 1), lag(4, 0)],
      [lag(4.5, 0), lag(-6, 2)],
    ]
    const states = elements.flatMap((row, i) => row.map(({ gain }, j) => ({ gain, i, j })))
    const system = spaceOf({
      A: times(identity(4), -2),
      B: states.map(({ j }) => [0, 1].map((input) => (input === j ? 1 : 0))),
      C: [0, 1].map((output) => states.map(({ gain, i }) => (i === output ? gain : 0))),
      D: elements.map((row) => row.map(({ direct }) => direct)),
    })
    expect(minimalRealization(system).a).toHaveLength(1)
    expect(sortedPoles(transmissionZeros(system)!)).toBeNear([[4, 0]], { absolute: 1e-8 })
  })
  it('of a single path are the roots of its numerator, and none far away', () => {
    const system = fromPolynomials([2, -6, 4], [1, 9, 26, 24, 5, 3], null)
    expect(sortedPoles(transmissionZeros(system)!)).toBeNear(real([1, 2]), { absolute: 1e-9 })
    expect(transmissionZeros(fromPolynomials([3], [1, 2, 1], null))).toEqual([])
  })
  it('are none where two inputs always push alike: the rank is 1 everywhere', () => {
    const twice = spaceOf({ A: [[-1]], B: [[1, 1]], C: [[1], [1]], D: [[0, 0], [0, 0]] }) // prettier-ignore
    expect(transmissionZeros(twice)).toEqual([])
  })
})

describe('poles where they are wanted', () => {
  it('of one input: the only gain, as Ackermann in 50 digits', () => {
    const { inputs, expected } = reference<{ A: Matrix; B: Matrix; poles: Pole[] }, { K: Matrix }>('place-siso-rand151')
    const { k, achieved } = expectDone(placePoles({ a: inputs.A, b: inputs.B }, inputs.poles))
    expect(k).toBeNear(expected.K, { relative: 1e-9 })
    expect(sortedPoles(achieved)).toBeNear(sortedPoles(inputs.poles), { absolute: 1e-8 })
  })
  it('of several inputs: exact, and with eigenvectors as far apart as the best', () => {
    // Byers & Nash, 1989, example 1 (chemical reactor); the accepted condition number is in the file
    const { inputs, expected } = reference<{ A: Matrix; B: Matrix; poles: number[] }, { scipy_cond_eigenvectors: number }>(
      'place-mimo-byers-nash-1',
    )
    const wanted = inputs.poles.map((re) => complex(re))
    const { k, achieved } = expectDone(placePoles({ a: inputs.A, b: inputs.B }, wanted))
    expect(sortedPoles(achieved)).toBeNear(sortedPoles(wanted), { relative: 1e-8 })
    const closed = plusMatrix(inputs.A, times(multiply(inputs.B, k), -1))
    const vectors = inputs.poles.map((pole) => transpose(singularValues(plusMatrix(closed, times(identity(4), -pole))).v).at(-1)!)
    const { values } = singularValues(vectors)
    expect(values[0]! / values.at(-1)!).toBeLessThan(2 * expected.scipy_cond_eigenvectors)
  })
  it.each([1, 2, 3, 4])('of several inputs with pairs and repetitions, seed %i', (seed) => {
    const [a, b] = [random(seed, 6, 6), random(seed + 50, 6, 2)]
    const wanted = [complex(-1, 2), complex(-1, -2), complex(-3, 0.5), complex(-3, -0.5), complex(-4), complex(-4)]
    const { achieved } = expectDone(placePoles({ a, b }, wanted))
    expect(sortedPoles(achieved)).toBeNear(sortedPoles(wanted), { absolute: 1e-6 })
  })
  it.each([1e5, 1, 1e-4])('are held to digits of their own size: %d rad/s', (pace) => {
    // six integrators in a row: what rounding leaves is far more, or far less, than a thousandth of a radian a second
    const chain = Array.from({ length: 6 }, (_, i) => Array.from({ length: 6 }, (__, j) => (j === i + 1 ? pace : 0)))
    const wanted = [1, 2, 3, 4, 5, 6].map((k) => complex(-k * pace))
    const { achieved } = expectDone(placePoles({ a: chain, b: chain.map((_, i) => [i === 5 ? pace : 0]) }, wanted))
    expect(sortedPoles(achieved)).toBeNear(sortedPoles(wanted), { relative: 1e-6 })
  })
  it('of many states by one input are refused where rounding alone moves them', () => {
    // a chain of 24 lags: Ackermann's gains hang on a reachability matrix that is singular to rounding (common practice)
    const n = 24
    const a = Array.from({ length: n }, (_, i) =>
      Array.from({ length: n }, (__, k) => (i === k ? -1 : k === i - 1 ? 0.4 : 0.01 * Math.sin(i * k + i))),
    )
    const b = Array.from({ length: n }, (_, i) => [i === 0 ? 1 : 0])
    const wanted = Array.from({ length: n }, (_, k) => complex(-1 - 0.7 * k))
    const placed = placePoles({ a, b }, wanted)
    expect(placed.kind).toBe('refused')
    if (placed.kind === 'refused') expect(placed.problems[0]!.what).toMatch(/from where they are wanted: with 24 states/)
  })

  it('of two inputs that push alike: shared between them', () => {
    const a = [[0, 1], [0, 0]] // prettier-ignore
    const { k } = expectDone(placePoles({ a, b: [[0, 0], [1, 2]] }, [complex(-1, 1), complex(-1, -1)])) // prettier-ignore
    expect(multiply([[1, 2]], k)).toBeNear([[2, 2]], { absolute: 1e-12 })
  })
  it('are refused with the reason', () => {
    const plant = { a: [[0, 1], [0, 0]], b: [[0], [1]] } // prettier-ignore
    const what = (poles: Complex[], system: { a: Matrix; b: Matrix } = plant) => {
      const found = placePoles(system, poles)
      return found.kind === 'refused' ? found.problems[0]!.what : ''
    }
    expect(what([complex(-1, 1), complex(-1, 2)])).toBe('The pole -1 + 1i has no partner.')
    expect(what([complex(-1)])).toBe('1 poles are given for 2 states.')
    expect(what([complex(-1), complex(-2)], { a: [[1, 0], [0, 2]], b: [[1], [0]] })).toBe('No input moves the mode 2.') // prettier-ignore
    const wide = { a: random(1, 3, 3), b: random(2, 3, 2) }
    expect(what([complex(-1), complex(-1), complex(-1)], wide)).toContain('wanted 3 times')
  })
})

/** What one system shows less what another does. */
function apart(one: StateSpace, other: StateSpace): StateSpace {
  const [n, m] = [one.a.length, other.a.length]
  const none = (count: number) => new Array<number>(count).fill(0)
  return {
    ...one,
    a: [...one.a.map((row) => [...row, ...none(m)]), ...other.a.map((row) => [...none(n), ...row])],
    b: [...one.b, ...other.b],
    c: one.c.map((row, i) => [...row, ...other.c[i]!.map((value) => -value)]),
    d: one.d.map((row, i) => row.map((value, j) => value - other.d[i]![j]!)),
  }
}
