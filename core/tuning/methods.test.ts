import { describe, expect, it } from 'vitest'
import { lawOf } from '../control'
import { fromPolynomials } from '../linear'
import type { StateSpace } from '../linear'
import {
  analyse,
  loopModel,
  relaySwing,
  stepReaction,
  tuneByRelay,
  tuneByStep,
  tuneByTimeConstant,
  tuneByUltimateGain,
} from './index'

/** So fast that sampling is not felt. */
const modelOf = (law: string, plant: StateSpace, rate = 20_000) => loopModel(lawOf({ law: { kind: law } }), plant, plant, rate, 0)
const tf = (num: number[], den: number[]) => fromPolynomials(num, den, null)
const gains = (found: ReturnType<typeof tuneByTimeConstant>) => {
  if (found.kind !== 'tuned') throw new Error(found.what)
  return found.gains
}
const what = (found: ReturnType<typeof tuneByTimeConstant>) => (found.kind === 'outOfReach' ? found.what : '')

describe('gains for a time constant', () => {
  it('take lags that are alike, which rounding makes a ring of poles', () => {
    // Skogestad, J. Process Control 13 (2003), half rule for 1/(s + 1)^n and no rate: lag 1.5, delay n - 1.5
    const [one, two, three] = [
      [1, 3, 3, 1],
      [1, 4, 6, 4, 1],
      [1, 8, 28, 56, 70, 56, 28, 8, 1],
    ].map((den, i) => ({ n: [3, 4, 8][i]!, ...gains(tuneByTimeConstant(modelOf('proportionalIntegral', tf([1], den)), 2)) }))
    for (const { n, kp, ki } of [one!, two!, three!]) {
      expect(kp).toBeNear(1.5 / (2 + n - 1.5), { relative: 0.05 })
      expect(kp / ki).toBeNear(1.5, { relative: 0.05 })
    }
  })

  it('are those of example E1 of the paper for its process', () => {
    // Skogestad, J. Process Control 13 (2003), example E1: 1/((s+1)(0.2s+1)), time constant 0.1: Kc 5.5, integral time 0.8
    const { kp, ki } = gains(tuneByTimeConstant(modelOf('proportionalIntegral', tf([5], [1, 6, 5])), 0.1))
    expect([kp, kp / ki]).toBeNear([5.5, 0.8], { relative: 1e-3 })
  })
  it('are the same for a process that is a thousand times slower, in its own time', () => {
    const slow = gains(tuneByTimeConstant(modelOf('proportionalIntegral', tf([5e-6], [1, 6e-3, 5e-6])), 100))
    expect([slow.kp, slow.kp / slow.ki]).toBeNear([5.5, 800], { relative: 1e-3 })
  })
  it('count an inverse response as so much delay', () => {
    // the same paper, section 3: (1 - 0.5 s)/((2 s + 1)(s + 1)) has lag 2 + 0.5 and delay 0.5 + 0.5
    const { kp, ki } = gains(tuneByTimeConstant(modelOf('proportionalIntegral', tf([-0.5, 1], [2, 3, 1])), 1))
    expect([kp, kp / ki]).toBeNear([2.5 / (1 + 1), 2.5], { relative: 1e-2 })
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

describe('gains from a relay experiment', () => {
  it('find the edge of 1/(s+1)³ as the describing function does', () => {
    // gain 8, period 2π/√3; a relay's describing function is good to a few percent on such a plant (Åström & Hägglund, 1984)
    const swing = relaySwing(modelOf('proportional', tf([1], [1, 3, 3, 1]), 400), { amplitude: 0.5, hysteresis: 0 })
    if (swing.kind === 'outOfReach') throw new Error(swing.what)
    expect(swing.ultimateGain).toBeNear(8, { relative: 0.08 })
    expect(swing.period).toBeNear(3.628, { relative: 0.02 })
  })
  it('do not depend on how hard the relay pushes, and turn their sign with the process', () => {
    const relay = (amplitude: number) => ({ amplitude, hysteresis: 0, table: 'zieglerNichols' }) as never
    const plant = tf([1], [1, 3, 3, 1])
    const [one, two] = [0.1, 7].map((d) => gains(tuneByRelay(modelOf('proportionalIntegral', plant, 200), relay(d))))
    expect([one!.kp, one!.ki]).toBeNear([two!.kp, two!.ki], { relative: 1e-9 })
    const turned = gains(tuneByRelay(modelOf('proportionalIntegral', tf([-1], [1, 3, 3, 1]), 200), relay(1)))
    expect([-turned.kp, -turned.ki]).toBeNear([one!.kp, one!.ki], { relative: 1e-9 })
    const calmer = gains(tuneByRelay(modelOf('proportionalIntegral', plant, 200), { ...(relay(1) as object), table: 'tyreusLuyben' } as never)) // prettier-ignore
    expect(calmer.kp / one!.kp).toBeNear(1 / 3.2 / 0.45, { relative: 1e-9 })
  })
  it('are refused where nothing swings but the sampling', () => {
    const found = tuneByRelay(modelOf('proportional', tf([1], [1, 1]), 50), { amplitude: 1, hysteresis: 0, table: 'zieglerNichols' } as never) // prettier-ignore
    expect(what(found)).toMatch(/sample to sample/)
  })
})

describe('gains from a step experiment', () => {
  const step = (table: string) => ({ size: 2, table }) as never
  /** A lag of 4 s whose delay of 1 s is the computation's. */
  const delayed = (law: string) => loopModel(lawOf({ law: { kind: law } }), tf([3], [4, 1]), tf([3], [4, 1]), 100, 100)

  it('see a lag with delay as it is', () => {
    const seen = stepReaction(delayed('proportional'), 2)
    if (seen.kind === 'outOfReach') throw new Error(seen.what)
    expect([seen.gain, seen.lag, seen.delay]).toBeNear([3, 4, 1], { relative: 5e-3 })
  })
  it('see an integrator with delay as it is', () => {
    const plant = tf([0.5], [1, 0])
    const seen = stepReaction(loopModel(lawOf({ law: { kind: 'proportional' } }), plant, plant, 100, 50), 2)
    if (seen.kind === 'outOfReach') throw new Error(seen.what)
    expect([seen.gain, seen.delay, seen.lag]).toEqual([expect.closeTo(0.5, 6), expect.closeTo(0.505, 4), Infinity])
  })
  it('are refused where the step swings beyond a tenth of its end', () => {
    // damping 0.5 overshoots by 16 %, 0.7 by less than 5 % (common practice, no source)
    const swings = (damping: number) => stepReaction(modelOf('proportional', tf([1], [1, 2 * damping, 1]), 200), 1)
    expect(what(swings(0.5) as never)).toMatch(/swings/)
    expect(swings(0.7).kind).toBe('reaction')
  })
  it('are those of the published tables', () => {
    // Ziegler & Nichols 1942: PI 0.9/(R L) and L/0.3 with R = 3/4, L = 1; Cohen & Coon 1953 with r = 1/4 (from memory)
    const zn = gains(tuneByStep(delayed('proportionalIntegral'), step('zieglerNichols')))
    expect([zn.kp, zn.kp / zn.ki]).toBeNear([1.2, 3.333], { relative: 1e-2 })
    const cc = gains(tuneByStep(delayed('proportionalIntegral'), step('cohenCoon')))
    expect([cc.kp, cc.kp / cc.ki]).toBeNear([(4 / 3) * (0.9 + 0.25 / 12), 30.75 / 14], { relative: 1e-2 })
    // Skogestad with a time constant of the delay: lag/(gain 2 delay), integral time min(lag, 8 delay)
    const simc = gains(tuneByStep(delayed('proportionalIntegral'), step('skogestad')))
    expect([simc.kp, simc.kp / simc.ki]).toBeNear([4 / 6, 4], { relative: 1e-2 })
    for (const table of ['zieglerNichols', 'cohenCoon', 'skogestad'])
      expect(
        analyse(delayed('proportionalIntegral'), gains(tuneByStep(delayed('proportionalIntegral'), step(table)))).stable,
      ).toBe(true)
  })
  it('are refused where a step shows no lag', () => {
    expect(what(tuneByStep(modelOf('proportional', tf([1], [1, 0, 0]), 100), step('zieglerNichols')))).toMatch(/integrates twice/)
    expect(what(tuneByStep(modelOf('proportional', tf([1], [1, 0.2, 4]), 100), step('zieglerNichols')))).toMatch(/swings/)
    expect(what(tuneByStep(modelOf('proportional', tf([1], [1, -1]), 100), step('zieglerNichols')))).toMatch(/unstable/)
    expect(what(tuneByStep(modelOf('proportional', tf([1], [1, 0]), 100), step('cohenCoon')))).toMatch(/integrates/)
  })
})
