import { describe, expect, it } from 'vitest'
import { reference } from '../tests/reference'
import { delayAsRational, fromPolynomials, responseAt, sampledStep, sampledWithDelay, stepResponse } from './index'
import type { StateSpace } from './index'

/** Outputs of a sampled system over inputs, sample by sample. */
function run(system: StateSpace, inputs: readonly number[]): number[] {
  let memory: readonly number[] = system.a.map(() => 0)
  return inputs.map((input) => {
    const { outputs, next } = sampledStep(system, memory, [input])
    memory = next as readonly number[]
    return outputs[0] as number
  })
}

describe('a delay', () => {
  it('as a rational function has the coefficients of Padé', () => {
    // Golub & Van Loan, Matrix Computations; see the file
    const { inputs, expected } = reference<{ delay_s: number }, Record<string, { num: number[]; den: number[] }>>('lti-pade-0.5')
    for (const [order, { num, den }] of Object.entries(expected)) {
      const found = delayAsRational(inputs.delay_s, Number(order))
      expect([...found.num]).toBeNear(num, { relative: 1e-9 })
      expect([...found.den]).toBeNear(den, { relative: 1e-9 })
    }
  })

  it('turns the phase by frequency times delay and leaves the gain: fact of the trade, no source', () => {
    const { num, den } = delayAsRational(0.5, 4)
    const { re, im } = responseAt(fromPolynomials([...num], [...den], null), { re: 0, im: 3 })![0]![0]!
    expect(Math.hypot(re, im)).toBeNear(1, { relative: 1e-12 })
    expect(Math.atan2(im, re)).toBeNear(-1.5, { absolute: 1e-5 })
  })

  it.each([0, 0.3, 0.1, 0.25, 0.4999999999, 0.73])('of %f s before a sampled lag gives the samples of its late step', (delay) => {
    const plant = fromPolynomials([2, 1], [1, 0.8, 4, 1], null)
    const sampled = sampledWithDelay(plant, 0.1, delay)
    const found = run(sampled, new Array<number>(60).fill(1))
    // the plain answer, drawn so finely that every late sample is one of its points
    const { y } = stepResponse(plant, 6, 60_001)
    found.forEach((value, k) => {
      const late = Math.round((k * 0.1 - delay) / 1e-4)
      expect(value).toBeNear(late < 0 ? 0 : y[late]![0]!, { absolute: 1e-6 })
    })
  })

  it('of part of a sample keeps both inputs that act within one', () => {
    // an integrator: the sum of what came in, up to the part of the last sample
    const sampled = sampledWithDelay(fromPolynomials([1], [1, 0], null), 1, 1.25)
    expect(run(sampled, [1, 2, 4, 8, 16])).toBeNear([0, 0, 0.75, 0.75 + 0.25 + 1.5, 1 + 2 + 3], { absolute: 1e-12 })
  })
})
