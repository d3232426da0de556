import { describe, expect, it } from 'vitest'
import { numbersFrom } from '../tests/randomGraph'
import { reference } from '../tests/reference'
import { identity, multiply, norm, plusMatrix, times, transpose } from '../algebra'
import type { Matrix } from '../algebra'
import { expectDone } from '../tests/expectDone'
import { sortedPoles } from '../tests/poles'
import { observer, regulator } from './index'

interface Inputs {
  readonly A: Matrix
  readonly B: Matrix
  readonly Q: Matrix
  readonly R: Matrix
  readonly S?: Matrix
}
interface Expected {
  readonly X: Matrix
  readonly K: Matrix
  readonly closed_loop_eigenvalues: { re: number; im: number }[]
}

/** Largest difference as a share of the whole, as the files state their tolerance. */
function share(found: Matrix, wanted: Matrix): number {
  return norm(plusMatrix(found, times(wanted, -1)).flat()) / norm(wanted.flat())
}

// P. Benner, A. J. Laub, V. Mehrmann, A collection of benchmark examples for the numerical solution of algebraic Riccati
// equations I and II, TU Chemnitz, 1995 (problems quoted from memory, recomputed in 50 and 80 digits)
describe('regulators of the published collections', () => {
  // 100 times the distance of the best reference library's answer, which each file states, and no less than 1e-12
  const continuous = {
    'care-carex-1': 1e-12,
    'care-carex-2': 1e-12,
    'care-carex-3': 1e-12,
    'care-carex-5': 1.5e-11,
    'care-carex-7-eps1': 1e-12,
    'care-carex-7-eps0.001': 7.7e-12,
    'care-rand101': 1e-12,
  }
  const sampled = {
    'dare-darex-2': 1e-12,
    'dare-darex-5': 1e-12,
    'dare-darex-7': 1e-12,
    'dare-darex-9': 2e-12,
    'dare-darex-a': 1e-12,
    'dare-rand111': 1e-12,
  }
  it.each([
    ...Object.entries(continuous).map(([id, close]) => ({ id, close, dt: null })),
    ...Object.entries(sampled).map(([id, close]) => ({ id, close, dt: 1 })),
  ])('agree with $id', ({ id, close, dt }) => {
    const { inputs, expected } = reference<Inputs, Expected>(id)
    const found = expectDone(
      regulator(
        { a: inputs.A, b: inputs.B, dt },
        { q: inputs.Q, r: inputs.R, ...(inputs.S === undefined ? {} : { n: inputs.S }) },
      ),
    )
    expect(share(found.s, expected.X)).toBeLessThan(close)
    expect(share(found.k, expected.K)).toBeLessThan(Math.max(1e-10, 10 * close))
    expect(sortedPoles(found.poles)).toBeNear(sortedPoles(expected.closed_loop_eigenvalues), { absolute: 1e-6, relative: 1e-6 })
  })
})

describe('a regulator', () => {
  it('of a double integrator is that of the closed form', () => {
    // Anderson & Moore, Optimal Control: Linear Quadratic Methods, 1990 (from memory)
    const { inputs, expected } = reference<Inputs, Expected>('lqr-double-integrator')
    const found = expectDone(regulator({ a: inputs.A, b: inputs.B, dt: null }, { q: inputs.Q, r: inputs.R }))
    expect(found.k).toBeNear(expected.K, { relative: 1e-12 })
  })

  it.each([1, 2, 3, 4, 5, 6])('leaves nothing of its equation, and no direction better, order 30, seed %i', (seed) => {
    const next = numbersFrom(seed)
    const random = (rows: number, columns: number) =>
      Array.from({ length: rows }, () => Array.from({ length: columns }, () => next() * 2 - 1))
    const [a, b] = [random(30, 30), random(30, 3)]
    const [q, r] = [identity(30), identity(3)]
    const { s, k, poles } = expectDone(regulator({ a, b, dt: null }, { q, r }))
    const sa = multiply(s, a)
    const left = plusMatrix(plusMatrix(sa, transpose(sa)), plusMatrix(q, times(multiply(transpose(k), k), -1)))
    expect(norm(left.flat()) / norm(sa.flat())).toBeLessThan(1e-11)
    expect(Math.max(...poles.map(({ re }) => re))).toBeLessThan(0)
  })

  it('says which mode no input moves, what is wrong with weights, and what costs nothing', () => {
    const stuck = regulator({ a: [[1, 0], [0, -2]], b: [[0], [1]], dt: null }, { q: identity(2), r: [[1]] }) // prettier-ignore
    expect(stuck).toMatchObject({
      problems: [{ where: 'system', what: 'No input moves the mode 1, which does not die out by itself.' }],
    })
    const free = regulator({ a: [[0, 1], [-4, 0]], b: [[0], [1]], dt: null }, { q: [[0, 0], [0, 0]], r: [[1]] }) // prettier-ignore
    expect(free).toMatchObject({
      problems: [{ what: 'Nothing in q weighs the mode 0 ± 2i: leaving it as it is would be best.' }],
    })
    const plant = { a: [[0, 1], [0, 0]], b: [[0], [1]], dt: null } // prettier-ignore
    const problem = (q: Matrix, r: Matrix) => {
      const found = regulator(plant, { q, r })
      return found.kind === 'refused' ? found.problems[0] : undefined
    }
    expect(problem([[1, 0], [0, -3]], [[1]])).toMatchObject({ where: 'q', what: 'q is negative in a direction, its least eigenvalue is -3, and no stabilizing solution was found.' }) // prettier-ignore
    expect(problem([[1, 2], [0, 1]], [[1]])).toMatchObject({ where: 'q', what: 'q is not symmetric.' }) // prettier-ignore
    expect(problem(identity(2), [[0]])).toMatchObject({ where: 'r' })
    expect(problem(identity(3), [[1]])).toMatchObject({ where: 'weights' })
  })

  it('finds what an indefinite weight still allows', () => {
    // x' = -x + u, -x²/2 + u²: s² + 2 s + 1/2 = 0, stabilizing s = -1 + sqrt(1/2), pole -sqrt(1/2); none below -1
    const plant = { a: [[-1]], b: [[1]], dt: null }
    const { s, poles } = expectDone(regulator(plant, { q: [[-0.5]], r: [[1]] }))
    expect([s[0]![0]!, poles[0]!.re]).toBeNear([-1 + Math.SQRT1_2, -Math.SQRT1_2], { relative: 1e-10 })
    expect(regulator(plant, { q: [[-1.5]], r: [[1]] })).toMatchObject({ kind: 'refused', problems: [{ where: 'q' }] })
    // sampled, x+ = x/2 + u: s = s/4/(1 + s) - 1/10, so s² + 0.85 s + 0.1 = 0
    const sampled = expectDone(regulator({ a: [[0.5]], b: [[1]], dt: 1 }, { q: [[-0.1]], r: [[1]] }))
    expect(sampled.s[0]![0]).toBeNear((-0.85 + Math.sqrt(0.85 ** 2 - 0.4)) / 2, { relative: 1e-10 })
  })

  it('refuses where digits are lost instead of giving a wrong answer', () => {
    // CAREX 7 with an input of 1e-6 times the state: X is about 2e12
    const hard = regulator({ a: [[1, 0], [0, -2]], b: [[1e-6], [0]], dt: null }, { q: [[1, 1], [1, 1]], r: [[1]] }) // prettier-ignore
    if (hard.kind === 'done') expect(hard.value.s[0]![0]).toBeNear(2e12 + 1, { relative: 1e-6 })
    const lost = regulator({ a: [[1, 0], [0, -2]], b: [[1e-12], [0]], dt: null }, { q: [[1, 1], [1, 1]], r: [[1]] }) // prettier-ignore
    if (lost.kind === 'done') expect(lost.value.s[0]![0]).toBeNear(2e24, { relative: 1e-6 })
  })
})

describe('an observer', () => {
  it("and a regulator have the margins of Doyle's example: next to none", () => {
    // J. C. Doyle, Guaranteed margins for LQG regulators, IEEE TAC 23(4), 1978
    const { inputs, expected } = reference<
      Inputs & { readonly C: Matrix; readonly W: Matrix; readonly V: Matrix },
      { K: Matrix; L: Matrix; gain_upper: number; gain_lower: number }
    >('lqg-doyle')
    const [a, b, c] = [inputs.A, inputs.B, inputs.C]
    const { k } = expectDone(regulator({ a, b, dt: null }, { q: inputs.Q, r: inputs.R }))
    const { l } = expectDone(observer({ a, c, dt: null }, { qn: inputs.W, rn: inputs.V }))
    expect(k).toBeNear(expected.K, { relative: 1e-9 })
    expect(l).toBeNear(expected.L, { relative: 1e-9 })
    const isStable = (m: number) => {
      const bk = multiply(b, k)
      const lc = multiply(l, c)
      const rows = [
        ...a.map((row, i) => [...row, ...bk[i]!.map((value) => -m * value)]),
        ...lc.map((row, i) => [...row, ...a[i]!.map((value, j) => value - bk[i]![j]! - row[j]!)]),
      ]
      return sortedPoles(rows).every(([re]) => re! < 0)
    }
    expect([0.999, 1.001].map((f) => isStable(f * expected.gain_upper))).toEqual([true, false])
    expect([0.999, 1.001].map((f) => isStable(f * expected.gain_lower))).toEqual([false, true])
  })

  it('of a sampled system: the update is what the filter itself converges to', () => {
    const a = [[0.95, 0.2], [-0.1, 0.9]] // prettier-ignore
    const c = [[1, 0.5]]
    const [qn, rn] = [[[0.02, 0], [0, 0.05]], [[0.1]]] // prettier-ignore
    const found = expectDone(observer({ a, c, dt: 0.1 }, { qn, rn }))
    let p: Matrix = identity(2)
    let gain: Matrix = []
    for (let i = 0; i < 500; i++) {
      const pc = multiply(p, transpose(c))
      const spread = multiply(c, pc)[0]![0]! + 0.1
      gain = times(pc, 1 / spread)
      const left = plusMatrix(p, times(multiply(gain, transpose(pc)), -1))
      p = plusMatrix(multiply(multiply(a, left), transpose(a)), qn)
    }
    expect(found.p).toBeNear(p, { relative: 1e-11 })
    expect(found.update).toBeNear(gain, { relative: 1e-11 })
    expect(found.l).toBeNear(multiply(a, gain), { relative: 1e-11 })
  })

  it('says what no measurement shows, in its own words', () => {
    const blind = observer({ a: [[0, 1], [0, 0]], c: [[0, 1]], dt: null }, { qn: identity(2), rn: [[1]] }) // prettier-ignore
    expect(blind).toMatchObject({ problems: [{ what: 'No measurement shows the mode 0, which does not die out by itself.' }] })
    const sharp = observer({ a: [[0, 1], [0, 0]], c: [[1, 0]], dt: null }, { qn: identity(2), rn: [[0]] }) // prettier-ignore
    expect(sharp).toMatchObject({ problems: [{ where: 'rn' }] })
    const misfit = observer({ a: [[0, 1], [0, 0]], c: [[1, 0]], dt: null }, { qn: identity(3), rn: [[1]] }) // prettier-ignore
    expect(misfit).toMatchObject({ problems: [{ where: 'qn' }] })
  })
})
