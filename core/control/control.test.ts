import { describe, expect, it } from 'vitest'
import { reference } from '../tests/reference'
import { heightFilterStep, predicted, updated } from './index'
import type { StateEstimate } from './index'

describe('the Kalman filter', () => {
  it('gives the published sequence of estimates', () => {
    // computed with numpy, verified there against batch conditioning of the joint Gaussian
    interface Sequence {
      readonly inputs: { F: number[][]; H: number[][]; Q: number[][]; R: number[][]; P0: number[][]; x0: number[]; y: number[][] }
      readonly expected: { x_posterior: number[][]; P_final: number[][] }
    }
    const { inputs, expected } = reference<Sequence['inputs'], Sequence['expected']>('kalman-sequence-rand121')
    let estimate: StateEstimate = { x: inputs.x0.map((v) => [v]), p: inputs.P0 }
    const posterior = inputs.y.map((y) => {
      estimate = updated(
        predicted(estimate, inputs.F, inputs.Q),
        inputs.H,
        inputs.R,
        y.map((v) => [v]),
      )
      return estimate.x.map((row) => row[0])
    })
    expect(posterior).toBeNear(expected.x_posterior, { relative: 1e-9 })
    expect(estimate.p).toBeNear(expected.P_final, { relative: 1e-9 })
  })

  it('settles at the gain of the Riccati equation', () => {
    // Kalata 1984 / Bar-Shalom, Li & Kirubarajan 2001, section 6.5 (problem from memory): closed form of alpha and beta
    interface Tracking {
      readonly inputs: { dt: number; sigma_accel: number; sigma_meas: number; F: number[][]; G: number[][]; H: number[][] }
      readonly expected: { K_filter: number[][]; P_prior: number[][] }
    }
    const { inputs, expected } = reference<Tracking['inputs'], Tracking['expected']>('kalman-alpha-beta')
    const g = inputs.G.map((row) => row[0]!)
    const q = g.map((a) => g.map((b) => a * b * inputs.sigma_accel ** 2))
    let estimate: StateEstimate = {
      x: [[0], [0]],
      p: [
        [1, 0],
        [0, 1],
      ],
    }
    let gain: unknown
    let prior: unknown
    for (let k = 0; k < 400; k++) {
      const moved = predicted(estimate, inputs.F, q)
      const corrected = updated(moved, inputs.H, [[inputs.sigma_meas ** 2]], [[0]])
      prior = moved.p
      gain = corrected.gain
      estimate = corrected
    }
    expect(gain).toBeNear(expected.K_filter, { relative: 1e-7 })
    expect(prior).toBeNear(expected.P_prior, { relative: 1e-7 })
  })
})

describe('the height filter', () => {
  const level = {
    roll: 0,
    pitch: 0,
    gravity: 9.80665,
    axis: [0, 0, -1] as const,
    arm: [0, 0, -0.1] as const,
    ground: -0.6,
    accelerationNoise: 0.2,
    rangeNoise: 0.01,
    dt: 0.005,
  }
  it('follows a true rise without error when nothing is noisy', () => {
    let memory: readonly unknown[] = [0, 0, 1e-4, 0, 1e-2]
    const acceleration = 0.8
    for (let k = 1; k <= 400; k++) {
      const t = k * level.dt
      const height = 0.5 * acceleration * t * t
      memory = heightFilterStep(memory as number[], {
        ...level,
        specificForce: [0, 0, 9.80665 + acceleration],
        fresh: k % 4 === 0,
        range: height - 0.1 + 0.6,
      })
    }
    expect(memory[0]).toBeNear(0.5 * acceleration * 4, { relative: 1e-6 })
    expect(memory[1]).toBeNear(acceleration * 2, { relative: 1e-6 })
  })
  it('leaves a missing reading out and grows less sure', () => {
    const before = [0, 0, 1e-4, 0, 1e-2]
    const after = heightFilterStep(before, { ...level, specificForce: [0, 0, 9.80665], fresh: false, range: 99 }) as number[]
    expect(after[0]).toBe(0)
    expect(after[2]!).toBeGreaterThan(before[2]!)
  })
})
