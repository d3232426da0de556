import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { fullMechanism } from '../machine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import type { FreeRecord } from './free'
import { measure } from './measure'

const rate = 200

/** A record of a true reading over time, as a mechanism with this sensor would leave it. */
function measured(errors: Record<string, number>, truth: (t: number) => number, seconds = 50, seed = 3) {
  const sensor: Part = { kind: 'encoder', joint: 'arm.angle', rate, ...errors }
  const arm = bodyPart(1, [0, 0, 0], [1, 1, 1], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 1] }))
  const time = Float64Array.from({ length: seconds * 1000 + 1 }, (_, k) => k / 1000)
  const record: FreeRecord = {
    time,
    columns: [{ name: 'sensors.eye', label: 'position', unit: 'rad', role: 'actual', values: time.map(truth) }],
    ending: { kind: 'finished' },
  }
  const [found] = measure(mechanismPart({ arm }, { sensors: { eye: sensor } }), record, fullMechanism, seed)
  return found!
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length
const spread = (values: readonly number[]) => Math.sqrt(mean(values.map((value) => (value - mean(values)) ** 2)))

describe('a sensor without errors', () => {
  it('reads the truth at its own samples', () => {
    const { time, values } = measured({}, (t) => t * t, 2)
    expect(time).toHaveLength(2 * rate + 1)
    expect(values).toBeNear(
      time.map((t) => t * t),
      { relative: 1e-12, absolute: 1e-12 },
    )
  })
})

describe('errors of a sensor', () => {
  it('spread by the density of the noise times the root of half the rate', () => {
    const { values } = measured({ noise: 0.02 }, () => 1)
    // 10 001 samples: the spread is known within 1.4 % (two standard errors)
    expect(spread(values)).toBeNear(0.02 * Math.sqrt(rate / 2), { relative: 0.03 })
    expect(mean(values)).toBeNear(1, { absolute: (3 * 0.02 * Math.sqrt(rate / 2)) / 100 })
  })

  it('drift as a random walk: its increments spread by the drift times the root of the time', () => {
    const { values } = measured({ drift: 0.3 }, () => 0)
    const overOneSecond = values.flatMap((value, k) => (k % rate === 0 && k > 0 ? [value - values[k - rate]!] : []))
    expect(spread(values.slice(1).map((value, k) => value - values[k]!))).toBeNear(0.3 / Math.sqrt(rate), { relative: 0.03 })
    expect(spread(overOneSecond)).toBeNear(0.3, { relative: 0.35 }) // 50 increments
  })

  it('come late by the delay, and off by the bias', () => {
    const { time, values } = measured({ delay: 0.02, bias: 0.5 }, (t) => 3 * t, 2)
    expect(values.slice(10)).toBeNear(
      time.slice(10).map((t) => 3 * (t - 0.02) + 0.5),
      { relative: 1e-9 },
    )
    expect(values[0]).toBe(0.5)
  })

  it('are cut at the ends and rounded to the resolution', () => {
    const { values } = measured({ least: -0.7, most: 0.7, resolution: 0.05 }, (t) => Math.sin(t), 7)
    expect(Math.max(...values)).toBeNear(0.7, { relative: 1e-12 })
    expect(Math.min(...values)).toBeNear(-0.7, { relative: 1e-12 })
    for (const value of values) expect(value / 0.05).toBeNear(Math.round(value / 0.05), { absolute: 1e-9 })
  })

  it('do not leave their ends by rounding', () => {
    const { values } = measured({ least: -0.7, most: 0.7, resolution: 0.4 }, (t) => Math.sin(t), 7)
    expect([...new Set(values.map((value) => Number(value.toFixed(9)) + 0))].sort((a, b) => a - b)).toEqual([
      -0.7, -0.4, 0, 0.4, 0.7,
    ])
  })

  it('lose their share of samples, which repeat the one before', () => {
    const { values, lost } = measured({ dropout: 0.1 }, (t) => t)
    expect(lost.filter((one) => one).length / lost.length).toBeNear(0.1, { relative: 0.1 })
    lost.forEach((gone, k) => gone && expect(values[k]).toBe(values[k - 1]))
  })

  it('are the same for the same seed and others for another', () => {
    const of = (seed: number) => measured({ noise: 0.02 }, () => 1, 1, seed).values
    expect(of(5)).toEqual(of(5))
    expect(of(5)).not.toEqual(of(6))
  })

  it('vanish when that layer is off', () => {
    const arm = bodyPart(1, [0, 0, 0], [1, 1, 1], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 1] }))
    const eye: Part = { kind: 'encoder', joint: 'arm.angle', rate: 10, bias: 4, noise: 1, delay: 0.3 }
    const time = Float64Array.of(0, 0.5, 1)
    const record: FreeRecord = {
      time,
      columns: [{ name: 'sensors.eye', label: '', unit: '', role: 'actual', values: time }],
      ending: { kind: 'finished' },
    }
    const [found] = measure(mechanismPart({ arm }, { sensors: { eye } }), record, new Set(), 1)
    expect(found!.values).toBeNear(found!.time, { absolute: 1e-15 })
  })
})
