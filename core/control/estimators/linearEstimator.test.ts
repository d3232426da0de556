import { describe, expect, it } from 'vitest'
import { complex, magnitude } from '../../algebra'
import { responseAt } from '../../linear'
import { lamplighter } from '../../tests/demo'
import type { Document } from '../../document'
import { heightFilterStep, linearEstimators, tiltFilterStep } from '../index'

const document = lamplighter()
const at = (w: number, dt: number) => complex(Math.cos(w * dt), Math.sin(w * dt))
const phase = ({ re, im }: { re: number; im: number }) => Math.atan2(im, re)

describe('the height filter about hover', () => {
  const [filter] = linearEstimators(document, 'lamplighter')
  const dt = filter!.system.dt!
  /** Estimates over the true motion where that swings at w. */
  const seen = (w: number) => {
    const r = responseAt(filter!.system, at(w, dt))!
    const [height, rate] = r.map(([byHeight, byAcceleration]) => ({
      re: byHeight!.re - w * w * byAcceleration!.re,
      im: byHeight!.im - w * w * byAcceleration!.im,
    })) as [{ re: number; im: number }, { re: number; im: number }]
    // the true climb rate is j w times the height
    return { height, rate: { re: rate.im / w, im: -rate.re / w } }
  }

  it('is the truth where all moves slowly, and leads by half a sample where only the accelerometer speaks', () => {
    for (const of of [seen(0.05).height, seen(0.05).rate]) expect(magnitude(complex(of.re - 1, of.im))).toBeLessThan(1e-3)
    expect(phase(seen(20).rate)).toBeNear((20 * dt) / 2, { relative: 0.05 })
  })

  it.each([4.2, 12])('answers as the filter itself does, run on a swing of %f rad/s', (w) => {
    const { heightFilter } = document.estimators
    const { accelerationNoise, rangeNoise, startHeight, startRate } = heightFilter as unknown as Record<string, number>
    let memory: readonly number[] = [0, w, startHeight! ** 2, 0, startRate! ** 2]
    const count = Math.round((2 * Math.PI * 40) / w / dt)
    const sums = [0, 0]
    let kept = 0
    for (let k = 1; k <= count; k++) {
      const t = k * dt
      memory = heightFilterStep(memory, {
        ...{ roll: 0, pitch: 0, specificForce: [0, 0, 9.8 - w * w * Math.sin(w * t)], gravity: 9.8, fresh: k % 4 === 0 },
        ...{
          range: Math.sin(w * t),
          arm: [0, 0, 0],
          ground: 0,
          accelerationNoise: accelerationNoise!,
          rangeNoise: rangeNoise!,
          dt,
        },
      }) as readonly number[]
      if (t < (20 * 2 * Math.PI) / w) continue
      // the swing in phase with the true rate w cos(w t), and beside it
      sums[0]! += memory[1]! * Math.cos(w * t)
      sums[1]! -= memory[1]! * Math.sin(w * t)
      kept++
    }
    const [re, im] = sums.map((sum) => (2 * sum) / kept / w) as [number, number]
    expect(seen(w).rate.re).toBeNear(re, { absolute: 5e-4 })
    expect(seen(w).rate.im).toBeNear(im, { absolute: 5e-4 })
  })
})

describe('the tilt filter about hover', () => {
  it('draws towards level in its time constant, as the filter itself does with thrust along the body', () => {
    const tilting = {
      ...document,
      estimators: { tilt: { kind: 'tiltFilter', machine: 'lamplighter', inertial: 'inertial', timeConstant: 2 } },
    } as Document
    const [filter] = linearEstimators(tilting, 'lamplighter')
    const { a, b, dt } = filter!.system
    let [x, memory] = [0, [0, 0] as readonly [number, number]]
    for (let k = 0; k < 400; k++) {
      const rate = 0.05 * Math.sin(0.02 * k)
      x = a[0]![0]! * x + b[0]![0]! * rate
      const inputs = { rates: [rate, 0, 0], specificForce: [0, 0, 9.8], timeConstant: 2, dt: dt! } as const
      memory = tiltFilterStep(memory, inputs).tilt as readonly [number, number]
    }
    expect(memory[0]).toBeNear(x, { relative: 1e-9 })
    expect(Math.abs(x)).toBeGreaterThan(1e-3)
  })
})

it('a low-pass comes after all that it may read, wherever it stands in the document', () => {
  const late = { kind: 'lowPassEstimator', machine: 'lamplighter', signal: 'heading', corner: 40, rate: 200 }
  const sorted = linearEstimators({ ...document, estimators: { late, ...document.estimators } } as Document, 'lamplighter')
  expect(sorted.map(({ estimated }) => estimated[0])).toEqual(['height', 'heading'])
})
