import { describe, expect, it } from 'vitest'
import { lawOf } from '../control'
import { fromPolynomials } from '../linear'
import type { StateSpace } from '../linear'
import { analyse, loopModel, tuneByTimeConstant, tuneByUltimateGain } from './index'

/** So fast that sampling is not felt. */
const modelOf = (law: string, plant: StateSpace, rate = 20_000) =>
  loopModel(lawOf({ kind: 'loop', law: { kind: law } }), plant, plant, rate, 0)
const tf = (num: number[], den: number[]) => fromPolynomials(num, den, null)
const gains = (found: ReturnType<typeof tuneByTimeConstant>) => {
  if (found.kind !== 'tuned') throw new Error(found.what)
  return found.gains
}
const what = (found: ReturnType<typeof tuneByTimeConstant>) => (found.kind === 'outOfReach' ? found.what : '')

describe('gains for a time constant', () => {
  it('are those of example E1 of the paper for its process', () => {
    // Skogestad, J. Process Control 13 (2003), example E1: 1/((s+1)(0.2s+1)), time constant 0.1: Kc 5.5, integral time 0.8
    const { kp, ki } = gains(tuneByTimeConstant(modelOf('proportionalIntegral', tf([5], [1, 6, 5])), 0.1))
    expect([kp, kp / ki]).toBeNear([5.5, 0.8], { relative: 1e-3 })
  })
  it('turn their sign with the process, and follow about as fast as asked', () => {
    const model = modelOf('proportionalIntegral', tf([-3], [2, 1]), 200)
    const found = gains(tuneByTimeConstant(model, 0.5))
    expect(found.kp).toBeLessThan(0)
    const { crossover, phaseMargin, stable } = analyse(model, found)
    expect(stable).toBe(true)
    expect(crossover).toBeNear(2, { relative: 0.1 }) // 1 / time constant
    expect(phaseMargin).toBeGreaterThan(1)
  })
  it('hold one and two integrators', () => {
    const cart = modelOf('proportionalIntegral', tf([4], [0.05, 1, 0]), 400)
    expect(analyse(cart, gains(tuneByTimeConstant(cart, 0.3))).stable).toBe(true)
    const inertia = modelOf('proportionalIntegralDerivative', tf([2], [1, 0, 0]), 400)
    expect(analyse(inertia, gains(tuneByTimeConstant(inertia, 0.3))).stable).toBe(true)
    const pd = modelOf('proportionalDerivative', tf([2], [1, 0, 0]), 400)
    expect(analyse(pd, gains(tuneByTimeConstant(pd, 0.3))).stable).toBe(true)
  })
  it('count an inverse response as delay, and stay stable', () => {
    const model = modelOf('proportionalIntegral', tf([-0.3, 1], [1, 2, 1]), 400)
    expect(analyse(model, gains(tuneByTimeConstant(model, 0.8))).stable).toBe(true)
  })
  it('are refused with the reason', () => {
    expect(what(tuneByTimeConstant(modelOf('proportionalIntegral', tf([1], [1, 0, 0])), 1))).toMatch(/integrates twice/)
    expect(what(tuneByTimeConstant(modelOf('proportionalIntegral', tf([1], [1, 0.1, 4])), 1))).toMatch(/mode that swings/)
    expect(what(tuneByTimeConstant(modelOf('proportionalIntegral', tf([1], [1, -1])), 1))).toMatch(/come to rest/)
    expect(what(tuneByTimeConstant(modelOf('proportionalIntegral', tf([1, 5], [1, 3, 2])), 1))).toMatch(/zero/)
  })
})

describe('gains from the edge of swinging', () => {
  it('are those of the table for 1/(s+1)³', () => {
    // it swings with gain 8 and period 2π/√3: Ziegler & Nichols, Trans. ASME 64 (1942)
    const model = modelOf('proportionalIntegral', tf([1], [1, 3, 3, 1]), 2000)
    const { kp, ki } = gains(tuneByUltimateGain(model))
    expect([kp, kp / ki]).toBeNear([3.6, 3.023], { relative: 2e-3 })
    expect(gains(tuneByUltimateGain(modelOf('proportional', tf([-1], [1, 3, 3, 1]), 2000))).kp).toBeNear(-4, { relative: 2e-3 })
  })
  it('are refused where there is no such edge', () => {
    expect(what(tuneByUltimateGain(modelOf('proportionalDerivative', tf([1], [1, 0, 0]))))).toMatch(/never comes to an edge/)
  })
})
