import { describe, expect, it } from 'vitest'
import { reference } from '../tests/reference'
import { halfRule, skogestad, zieglerNichols } from './index'

describe("Skogestad's rules", () => {
  // S. Skogestad, Simple analytic rules for model reduction and PID controller tuning, J. Process Control 13 (2003), table 1
  const { inputs, expected } = reference<
    { k_tau1_theta_tau2: [number, number, number, number][] },
    { settings: { tau_c: number; ideal: { Kc: number; tauI: number; tauD: number } }[] }
  >('tune-simc')
  it.each(inputs.k_tau1_theta_tau2.map((given, i) => ({ given, wanted: expected.settings[i]! })))(
    'give the published gains for $given',
    ({ given: [gain, lag, delay, second], wanted }) => {
      const found = skogestad({ gain, integrators: 0, lag, second, delay }, wanted.tau_c)
      expect([found.gain, found.integralTime, found.rateTime]).toBeNear([wanted.ideal.Kc, wanted.ideal.tauI, wanted.ideal.tauD], {
        relative: 1e-9,
        absolute: 1e-12,
      })
    },
  )

  it('reduce example E1 of the paper by the half rule', () => {
    const { expected: wanted } = reference<object, Record<'tau1' | 'theta' | 'Kc' | 'tauI', number>>('tune-halfrule')
    const { kept, delay } = halfRule([0.2, 1], 0, 1)
    expect([kept[0]!, delay]).toBeNear([wanted.tau1, wanted.theta], { relative: 1e-12 })
    const found = skogestad({ gain: 1, integrators: 0, lag: kept[0]!, second: 0, delay }, delay)
    expect([found.gain, found.integralTime]).toBeNear([wanted.Kc, wanted.tauI], { relative: 1e-9 })
  })

  it('keep two lags, or none of an integrating process', () => {
    expect(halfRule([3, 1, 0.4, 0.1], 0.2, 2)).toEqual({ kept: [3, 1.2], delay: expect.closeTo(0.5, 12) as number })
    expect(halfRule([0.5, 0.1], 0.2, 0)).toEqual({ kept: [], delay: expect.closeTo(0.8, 12) as number })
  })
})

describe('the table of the ultimate gain', () => {
  it('is that of Ziegler and Nichols', () => {
    // Trans. ASME 64 (1942); the plant 1/(s+1)³ swings with gain 8 and period 2π/√3
    const { inputs, expected } = reference<
      { Ku: number; Tu: number },
      { P: { Kp: number }; PI: { Kp: number; Ti: number }; PID: { Kp: number; Ti: number; Td: number } }
    >('tune-zn')
    const of = (law: 'P' | 'PI' | 'PID') => zieglerNichols(inputs.Ku, inputs.Tu, law)
    expect(of('P').gain).toBeNear(expected.P.Kp, { relative: 1e-12 })
    expect([of('PI').gain, of('PI').integralTime]).toBeNear([expected.PI.Kp, expected.PI.Ti], { relative: 1e-9 })
    expect([of('PID').gain, of('PID').integralTime, of('PID').rateTime]).toBeNear(
      [expected.PID.Kp, expected.PID.Ti, expected.PID.Td],
      { relative: 1e-9 },
    )
  })
})
