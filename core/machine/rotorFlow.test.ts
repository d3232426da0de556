import { describe, expect, it } from 'vitest'
import { reference } from '../tests/reference'
import { groundEffect, inducedVelocity, throughFlow } from './rotorFlow'

// Leishman, Principles of Helicopter Aerodynamics, 2nd ed., ch. 2; Cheeseman & Bennett, ARC R&M 3021, 1955
const { inputs, expected } = reference<
  { thrust_N: number; R: number; rho: number; Vc: number; z_over_R: readonly number[] },
  {
    vi_hover: number
    vi_climb: number
    ideal_power: number
    climb_power: number
    ground_effect_thrust_ratio: readonly number[]
  }
>('rotor-hover')
const { thrust_N: thrust, R: radius, rho: density, Vc: climb } = inputs

describe('the flow through a disc', () => {
  it('is that of the published hover and climb', () => {
    const [hover, climbing] = [inducedVelocity(thrust, density, radius, 0), inducedVelocity(thrust, density, radius, climb)] as [
      number,
      number,
    ]
    expect(hover).toBeNear(expected.vi_hover, { relative: 1e-12 })
    expect(climbing).toBeNear(expected.vi_climb, { relative: 1e-12 })
    expect(thrust * hover).toBeNear(expected.ideal_power, { relative: 1e-12 })
    expect(thrust * (climb + climbing)).toBeNear(expected.climb_power, { relative: 1e-12 })
  })

  const speed = 40
  const disc = { hoverThrust: thrust / speed ** 2, density, radius, bladeLift: 0.08 * 5.7 }

  it('lets fixed blades hover with their thrust', () => {
    const flow = throughFlow(disc, speed, 0)
    expect(flow.thrust as number).toBeNear(thrust, { relative: 1e-12 })
    expect(flow.inducedVelocity as number).toBeNear(expected.vi_hover, { relative: 1e-12 })
  })

  it.each([-4, -1, 0, 1, 5, 20])('satisfies momentum and blade elements at once, climbing at %d m/s', (rate) => {
    const { thrust: given, inducedVelocity: induced } = throughFlow(disc, speed, rate) as {
      thrust: number
      inducedVelocity: number
    }
    if (given > 0) expect(inducedVelocity(given, density, radius, rate) as number).toBeNear(induced, { relative: 1e-10 })
    const area = Math.PI * radius ** 2
    const tip = speed * radius
    // C_T = s a/2 (theta/3 - lambda/2), theta from hover
    const coefficient = (force: number, flow: number) =>
      (2 * force) / (density * area * tip ** 2 * disc.bladeLift) + flow / tip / 2
    expect(coefficient(given, rate + induced)).toBeNear(coefficient(thrust, expected.vi_hover), { relative: 1e-10 })
  })

  it('takes thrust away in a climb and adds some in a descent', () => {
    const at = (rate: number) => throughFlow(disc, speed, rate).thrust as number
    expect(at(5)).toBeLessThan(thrust)
    expect(at(-2)).toBeGreaterThan(thrust)
  })

  it('gives the published gain near the ground', () => {
    inputs.z_over_R.forEach((ratio, i) => {
      expect(groundEffect(radius, ratio * radius) as number).toBeNear(expected.ground_effect_thrust_ratio[i]!, {
        relative: 1e-12,
      })
    })
  })
})
