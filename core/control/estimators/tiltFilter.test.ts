import { describe, expect, it } from 'vitest'
import { attitude, quaternionOf, quaternionRate, rotation } from '../../algebra'
import type { Quaternion } from '../../algebra'
import { tiltFilterStep } from './tiltFilter'

type Triple = readonly [number, number, number]

/** Tilts after so many samples of 10 ms, from level. */
function filtered(rates: Triple, specificForce: Triple, samples: number, timeConstant = 0.5): readonly number[] {
  let tilt: readonly [number, number] = [0, 0]
  for (let k = 0; k < samples; k++)
    tilt = tiltFilterStep(tilt, { rates, specificForce, timeConstant, dt: 0.01 }).tilt as readonly [number, number]
  return tilt
}

// axes: x ahead, y to the left, z up; a body at rest feels 9.81 m/s² upward
describe('the signs of the tilt filter', () => {
  it('a body whose left side is up feels its support to the left as well: roll to the right is positive', () => {
    // rolled by +0.3 about x: the left side rises, and up in body axes is (0, sin, cos)
    expect(filtered([0, 0, 0], [0, 9.81 * Math.sin(0.3), 9.81 * Math.cos(0.3)], 2000)).toBeNear([0.3, 0], { absolute: 1e-9 })
  })
  it('a body whose nose is down feels its support towards the tail: pitch down is positive', () => {
    // pitched by +0.3 about y: the nose falls, and up in body axes is (-sin, 0, cos)
    expect(filtered([0, 0, 0], [-9.81 * Math.sin(0.3), 0, 9.81 * Math.cos(0.3)], 2000)).toBeNear([0, 0.3], { absolute: 1e-9 })
  })
  it('turning about its axes tilts it their way, as long as the accelerometer has not spoken', () => {
    const [roll, still] = filtered([0.1, 0, 0], [0, 0, 9.81], 10, 1e6)
    expect([roll, still]).toBeNear([0.01, 0], { absolute: 1e-6 })
    const [none, pitch] = filtered([0, 0.1, 0], [0, 0, 9.81], 10, 1e6)
    expect([none, pitch]).toBeNear([0, 0.01], { absolute: 1e-6 })
  })
  it('turning about all axes at once goes as the attitude itself does', () => {
    const start = { roll: 0.3, pitch: -0.5, heading: 0.2 }
    const [rates, dt] = [[0.4, -0.7, 0.9] as const, 1e-5]
    const q = quaternionOf(start)
    const rate = quaternionRate(q, rates)
    const later = attitude(rotation(q.map((value, i) => (value as number) + dt * (rate[i] as number)) as unknown as Quaternion))
    const inputs = { rates, specificForce: [0, 0, 9.81] as const, timeConstant: 1e12, dt }
    const { tilt } = tiltFilterStep([start.roll, start.pitch], inputs)
    const moved = [(tilt[0] as number) - start.roll, (tilt[1] as number) - start.pitch]
    expect(moved).toBeNear([(later.roll as number) - start.roll, (later.pitch as number) - start.pitch], { relative: 1e-4 })
  })
  it('turning left round its own z while its left side is up raises the nose', () => {
    // the nose moves towards the left side, which is up: pitch down falls below 0
    let tilt: readonly [number, number] = [0.3, 0]
    const inputs = { rates: [0, 0, 0.1] as const, specificForce: [0, 9.81 * Math.sin(0.3), 9.81 * Math.cos(0.3)] as const }
    tilt = tiltFilterStep(tilt, { ...inputs, timeConstant: 1e9, dt: 0.01 }).tilt as readonly [number, number]
    expect(tilt[1]).toBeNear(-0.1 * Math.sin(0.3) * 0.01, { absolute: 1e-9 })
  })
})
