import { describe, expect, it } from 'vitest'
import { reference } from '../tests/reference'
import { splineThrough } from './spline'

const times = [0, 0.7, 1.5, 3]
const values = [0.2, 1, -0.4, 0.9]

describe.each(['on', 'stop'] as const)('a motion through poses, passing %s', (passing) => {
  const along = splineThrough(times, values, passing)

  it('goes through its points, from rest to rest', () => {
    times.forEach((t, i) => expect(along(t).q).toBeNear(values[i]!, { relative: 1e-12 }))
    expect(along(0).v).toBeNear(0, { absolute: 1e-12 })
    expect(along(3).v).toBeNear(0, { absolute: 1e-12 })
    expect([along(-1).q, along(5).q, along(-1).v, along(5).a]).toEqual([0.2, 0.9, 0, 0])
  })

  it('has speeds and accelerations that are its slopes, and jumps nowhere', () => {
    const h = 1e-5
    for (let t = 0.01; t < 2.99; t += 0.0173) {
      const [before, here, after] = [along(t - h), along(t), along(t + h)]
      expect(here.v).toBeNear((after.q - before.q) / (2 * h), { absolute: 1e-6 })
      expect(Math.abs(after.a - before.a)).toBeLessThan(0.02) // continuous also at the poses
    }
  })

  it('takes n² the acceleration when it is n times faster (fact of the trade, common practice, no source)', () => {
    const faster = splineThrough(
      times.map((t) => t / 3),
      values,
      passing,
    )
    for (const t of [0.2, 1.1, 2.4]) expect(faster(t / 3).a).toBeNear(9 * along(t).a, { relative: 1e-10 })
  })
})

describe('a motion of least jerk', () => {
  it('has the published peaks', () => {
    // T. Flash & N. Hogan, J. Neuroscience 5, 1985
    const { inputs, expected } = reference<
      { D: number; T: number },
      { peak_velocity: number; peak_acceleration: number; t_peak_acc: number; x_quarter: number }
    >('act-minjerk')
    const along = splineThrough([0, inputs.T], [0, inputs.D], 'stop')
    expect(along(inputs.T / 2).v).toBeNear(expected.peak_velocity, { relative: 1e-12 })
    expect(along(expected.t_peak_acc).a).toBeNear(expected.peak_acceleration, { relative: 1e-12 })
    expect(along(expected.t_peak_acc * 1.01).a).toBeLessThan(expected.peak_acceleration)
    expect(along(inputs.T / 4).q).toBeNear(expected.x_quarter, { relative: 1e-12 })
  })
})
