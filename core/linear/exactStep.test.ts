import { describe, expect, it } from 'vitest'
import { expectDone } from '../tests/expectDone'
import { exactStepFigures, fromPolynomials, sampledWithHold } from './index'
import type { StepRules } from './index'

const figures = (num: number[], den: number[], rules: StepRules = {}, dt: number | null = null) =>
  expectDone(exactStepFigures(fromPolynomials(num, den, dt), rules))
const near = { relative: 1e-7 }
const nearer = { relative: 1e-10 }

describe('the figures of an exact step', () => {
  it.each([1e-7, 1e-6, 1, 1e5])('of a lag with %d s are those of the exponential', (T) => {
    const { final, rise, peak, overshoot, settling } = figures([3], [T, 1])
    expect([final, rise, settling]).toBeNear([3, T * Math.log(9), T * Math.log(50)], nearer)
    expect([peak, overshoot]).toBeNear([3, 0], { relative: 1e-6, absolute: 1e-7 })
  })

  it.each([0.05, 0.3, 0.7])('of a second order with damping %d are those of the closed form', (zeta) => {
    // Ogata, Modern Control Engineering, section 5-3 (from memory): peak time and overshoot
    const damped = Math.sqrt(1 - zeta * zeta)
    const { peakTime, overshoot, settling, rise } = figures([4], [1, 4 * zeta, 4])
    expect(peakTime).toBeNear(Math.PI / (2 * damped), { relative: 1e-6 })
    expect(overshoot).toBeNear(Math.exp((-Math.PI * zeta) / damped), { relative: 1e-9 })
    const away = (t: number) => (-Math.exp(-2 * zeta * t) / damped) * Math.sin(2 * damped * t + Math.acos(zeta))
    expect(Math.abs(away(settling!))).toBeNear(0.02, { relative: 1e-6 })
    for (let t = settling! * (1 + 1e-9); t < settling! * 3; t += 0.001) expect(Math.abs(away(t))).toBeLessThanOrEqual(0.02)
    const first = (level: number) => {
      let t = 0
      while (1 + away(t) < level) t += 1e-5
      return t
    }
    expect(rise).toBeNear(first(0.9) - first(0.1), { absolute: 3e-5 })
  })

  it('of a fast part beside a slow one show both', () => {
    // 1/2 at once in a microsecond with a resonance, the other half in seconds
    const [w, zeta] = [1e6, 0.2]
    const slow = [10, 1]
    const fast = [1, 2 * zeta * w, w * w]
    const den = [slow[0]! * fast[0]!, slow[0]! * fast[1]! + fast[0]!, slow[0]! * fast[2]! + fast[1]!, fast[2]!]
    // 0.2/(10 s + 1) + 0.8 w²/(s² + 2 zeta w s + w²)
    const num = [0.2, 0.2 * fast[1]! + 8 * w * w, 0.2 * fast[2]! + 0.8 * w * w]
    const { peak, peakTime, settling, final } = figures(num, den)
    const overshoot = Math.exp((-Math.PI * zeta) / Math.sqrt(1 - zeta * zeta))
    expect(final).toBeNear(1, { relative: 1e-9 })
    expect(peak).toBeNear(0.8 * (1 + overshoot), { relative: 1e-6 })
    expect(peakTime).toBeNear(Math.PI / (w * Math.sqrt(1 - zeta * zeta)), { relative: 1e-3 })
    expect(settling).toBeNear(10 * Math.log(0.2 / 0.02), { relative: 1e-6 })
  })

  it('come later by a delay, and rise as long', () => {
    const [plain, late] = [figures([4], [1, 1, 4]), figures([4], [1, 1, 4], { delay: 0.7 })]
    expect([late.peakTime, late.settling, late.rise]).toBeNear([plain.peakTime + 0.7, plain.settling! + 0.7, plain.rise!], near)
  })

  it('of a response that comes back have a peak and a settling, no rise and no overshoot', () => {
    // s/(s + 1)²: t e^-t, greatest at 1 s
    const found = figures([1, 0], [1, 2, 1])
    expect(found).not.toHaveProperty('rise')
    expect(found).not.toHaveProperty('overshoot')
    expect([found.final, found.peak]).toBeNear([0, Math.exp(-1)], { relative: 1e-9, absolute: 1e-15 })
    const t = found.settling!
    expect(t * Math.exp(-t)).toBeNear(0.02 * Math.exp(-1), { relative: 1e-6 })
  })

  it('of a gain alone are there at once', () => {
    expect(figures([2], [1])).toMatchObject({ final: 2, rise: 0, peak: 2, peakTime: 0, overshoot: 0, settling: 0 })
  })

  it('of a sampled system are those at its samples, however slow it is', () => {
    const sampled = expectDone(exactStepFigures(sampledWithHold(fromPolynomials([4], [1, 0.6, 4], null), 0.01)))
    const exact = figures([4], [1, 0.6, 4])
    expect(sampled.overshoot!).toBeNear(exact.overshoot!, { relative: 1e-3 })
    expect([sampled.rise!, sampled.settling!]).toBeNear([exact.rise!, exact.settling!], { absolute: 0.02 })
    // a pole of 1 - 1e-7: 39 million samples to settle
    const { settling } = figures([1e-7], [1, -0.9999999], {}, 1)
    expect(settling).toBeNear(Math.log(50) / 1e-7, { relative: 1e-6 })
  })

  it('do not count what no input reaches, and are refused where nothing comes to rest', () => {
    const hidden = figures([1, -1], [1, 0, -1]) // (s - 1)/((s - 1)(s + 1))
    expect(hidden.settling).toBeNear(Math.log(50), near)
    for (const den of [
      [1, 0],
      [1, 0, 4],
      [1, -1],
    ])
      expect(exactStepFigures(fromPolynomials([1], den, null)).kind).toBe('refused')
    const endless = exactStepFigures(fromPolynomials([1], [1, 1e-7, 1], null))
    expect(endless).toMatchObject({ kind: 'refused', problems: [{ what: expect.stringMatching(/swings too long/) as string }] })
  })
})
