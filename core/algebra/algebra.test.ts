import { describe, expect, it } from 'vitest'
import { numbersFrom } from '../tests/randomGraph'
import { reference } from '../tests/reference'
import {
  attitude,
  eigenvalues,
  exponentialOf,
  hessenbergForm,
  identity,
  multiply,
  product,
  quaternionOf,
  quaternionRate,
  rotation,
  solve,
  solveDefinite,
  solved,
  transpose,
} from './index'
import type { Quaternion } from './index'

const radians = (degrees: number) => (degrees * Math.PI) / 180

function randomMatrix(seed: number, n: number): number[][] {
  const next = numbersFrom(seed)
  return Array.from({ length: n }, () => Array.from({ length: n }, () => next() * 4 - 2))
}

describe('rotations', () => {
  interface Rotations {
    readonly inputs: { readonly yaw_pitch_roll_deg: [number, number, number][] }
    readonly expected: {
      readonly rotations: {
        R_body_to_world: number[][]
        quat_wxyz: number[]
        quat_unique_up_to_sign: boolean
        gimbal_lock: boolean
      }[]
    }
  }
  // Stevens & Lewis, Aircraft Control and Simulation (2003), section 1.3; numbers computed with scipy's rotations
  const { inputs, expected } = reference<Rotations['inputs'], Rotations['expected']>('kin-rotations')
  it.each(inputs.yaw_pitch_roll_deg.map((angles, i) => ({ angles, wanted: expected.rotations[i]! })))(
    'has the published matrix and quaternion at $angles',
    ({ angles, wanted }) => {
      const [heading, pitch, roll] = angles.map(radians) as [number, number, number]
      const q = quaternionOf({ heading, pitch, roll })
      expect(rotation(q)).toBeNear(wanted.R_body_to_world, { absolute: 1e-12 })
      const sign = Math.sign(q.reduce<number>((sum, value, i) => sum + (value as number) * wanted.quat_wxyz[i]!, 0))
      expect(q.map((value) => sign * (value as number))).toBeNear(wanted.quat_wxyz, { absolute: 1e-12 })
      if (wanted.gimbal_lock) return
      const back = attitude(rotation(q))
      expect([back.heading, back.pitch, back.roll].map((angle) => Math.sin(angle as number))).toBeNear(
        [heading, pitch, roll].map(Math.sin),
        { absolute: 1e-7 },
      )
    },
  )

  it('rotates first by the right factor of a product', () => {
    const quarterAboutZ: Quaternion = [Math.SQRT1_2, 0, 0, Math.SQRT1_2]
    const quarterAboutX: Quaternion = [Math.SQRT1_2, Math.SQRT1_2, 0, 0]
    const r = rotation(product(quarterAboutZ, quarterAboutX))
    expect(r.map((row) => row[1])).toBeNear([0, 0, 1], { absolute: 1e-15 }) // body y: about x to z, which turning about z keeps
  })

  it('changes as the angular velocity in body axes says', () => {
    expect(quaternionRate([1, 0, 0, 0], [0.2, -0.4, 0.6])).toBeNear([0, 0.1, -0.2, 0.3], { absolute: 1e-16 })
  })
})

describe('eigenvalues', () => {
  it('of a block far smaller than the rest keep its coupling', () => {
    // 1e-10 ± sqrt(1e-10 · 1e-24)
    const found = eigenvalues([[1, 0, 0], [0, 1e-10, 1e-10], [0, 1e-24, 1e-10]])!.map(({ re }) => re).sort((a, b) => a - b) // prettier-ignore
    expect(found[2]).toBeNear(1, { relative: 1e-12 })
    expect((found[1]! - found[0]!) / 2).toBeNear(1e-17, { relative: 1e-3 })
  })

  it.each([1, 2, 3, 4, 5])('have the trace as sum and the determinant as product, seed %i', (seed) => {
    const a = randomMatrix(seed, 7)
    const values = eigenvalues(a)!
    const sum = values.reduce((total, { re }) => total + re, 0)
    expect(sum).toBeNear(
      a.reduce((total, row, i) => total + row[i]!, 0),
      { absolute: 1e-10 },
    )
    for (const { re, im } of values.filter((value) => value.im === 0)) {
      // a real eigenvalue makes a - value 1 singular: solving then refuses or blows up
      const x = solve(
        a.map((row, i) => row.map((value, j) => (i === j ? value - re : value) + im)),
        a.map(() => [1]),
      )
      expect(x === undefined || Math.max(...x.flat().map(Math.abs)) > 1e8).toBe(true)
    }
  })
  it('finds those of a companion matrix', () => {
    // roots of (x - 1)(x - 2)(x² + 2x + 5), by hand
    const found = eigenvalues([
      [1, -1, 11, -10],
      [1, 0, 0, 0],
      [0, 1, 0, 0],
      [0, 0, 1, 0],
    ])!
    const sorted = [...found].sort((a, b) => a.re - b.re || a.im - b.im).map(({ re, im }) => [re, im])
    expect(sorted).toBeNear(
      [
        [-1, -2],
        [-1, 2],
        [1, 0],
        [2, 0],
      ],
      { absolute: 1e-10 },
    )
  })
  it('says so where entries are not finite', () => {
    expect(eigenvalues([[NaN]])).toBeUndefined()
  })
})

describe('the matrix exponential', () => {
  // Moler & Van Loan, Nineteen dubious ways ..., SIAM Review 20 (1978), quoted from memory; Al-Mohy & Higham 2009
  const { inputs, expected } = reference<{ matrices: number[][][]; names: string[] }, { expm: number[][][] }>('expm-classic')
  it.each(inputs.names.map((name, i) => ({ name, a: inputs.matrices[i]!, e: expected.expm[i]! })))(
    'is right for: $name',
    ({ a, e }) => {
      expect(exponentialOf(a)).toBeNear(e, { relative: 1e-10 })
    },
  )
})

describe('solving', () => {
  it.each([1, 2, 3])('undoes multiplication, seed %i', (seed) => {
    const a = randomMatrix(seed, 6)
    const x = randomMatrix(seed + 10, 6)
    expect(solve(a, multiply(a, x))!).toBeNear(x, { relative: 1e-9 })
    const gram = multiply(
      a,
      a.map((_, i) => a.map((row) => row[i]!)).map((column) => column),
    ).map((row, i) => row.map((value, j) => value + (i === j ? 6 : 0)))
    const symmetric = gram.map((row, i) => row.map((value, j) => (value + gram[j]![i]!) / 2 + (i === j ? 30 : 0)))
    expect(solveDefinite(symmetric, multiply(symmetric, x))).toBeNear(x, { relative: 1e-8 })
  })
  it('refuses a singular matrix', () => {
    expect(
      solve(
        [
          [1, 2],
          [2, 4],
        ],
        [[1], [2]],
      ),
    ).toBeUndefined()
  })
  it('solves three by cofactors', () => {
    expect(
      solved(
        [
          [2, 0, 0],
          [0, 4, 1],
          [0, 1, 3],
        ],
        [2, 9, 5],
      ),
    ).toBeNear([1, 2, 1], { absolute: 1e-15 })
  })
})

it('the Hessenberg form has nothing below its subdiagonal, and gives the matrix back', () => {
  const gaps = [[1, 2, 3, 4], [0, 4, 5, 1], [6, 7, 8, 2], [0, 1, 3, 9]] // prettier-ignore
  const full = [[1, 2, 3, 4], [-3, 4, 5, 1], [6, 7, 8, 2], [5, 1, 3, 9]] // prettier-ignore
  for (const a of [gaps, full]) {
    const { h, q } = hessenbergForm(a)
    for (const [i, j] of [[2, 0], [3, 0], [3, 1]] as const) expect(h[i]![j]).toBeNear(0, { absolute: 1e-14 }) // prettier-ignore
    expect(multiply(multiply(q, h), transpose(q))).toBeNear(a, { absolute: 1e-13 })
    expect(multiply(q, transpose(q))).toBeNear(identity(4), { absolute: 1e-14 })
  }
})
