import { describe, expect, it } from 'vitest'
import { complex, magnitude } from '../../algebra'
import { responseAt } from '../../linear'
import { lamplighter } from '../../tests/demo'
import type { Document } from '../../document'
import { designLayers } from '../../machine'
import { expectDone } from '../../tests/expectDone'
import { bodyPart, jointPart, mechanismPart } from '../../tests/parts'
import { heightFilterStep, linearEstimators, linearMachine, tiltFilterStep } from '../index'
import type { LinearEstimator } from '../index'

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
          axis: [0, 0, -1],
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
  const late = { kind: 'lowPassEstimator', machine: 'lamplighter', signal: 'readings.attitude.heading', corner: 40, rate: 200 }
  const sorted = linearEstimators({ ...document, estimators: { late, ...document.estimators } } as Document, 'lamplighter')
  expect(sorted.map(({ estimated }) => estimated[0])).toEqual(['readings.place.height', 'readings.attitude.heading'])
})

describe('the tilt filter about rest', () => {
  /** A plate on an axle through its centre, turned by these angles: it stays where it is put. */
  const plate = (turned: readonly [number, number, number]) => {
    const joint = { ...jointPart('turning', 'ground', [0, 0, 0]), axis: [0, 0, 1], turned }
    const machine = {
      ...mechanismPart({ plate: bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], joint as never) }),
      gravity: 9.8,
      readings: { attitude: { kind: 'attitudeReading', body: 'plate', from: 'ground' } },
      sensors: { imu: { kind: 'inertialUnit', body: 'plate', at: [0.2, 0.1, 0], rate: 100 } },
    }
    const estimators = { tilt: { kind: 'tiltFilter', machine: 'm', inertial: 'imu', timeConstant: 0.8 } }
    return { machine, document: { machines: { m: machine }, estimators } as unknown as Document }
  }

  it.each([
    [0, 0, 0],
    [0.3, 0, 0],
    [-0.4, 0.5, 0.9],
  ] as const)('answers each rate and each specific force as the filter itself does, turned by %f, %f, %f', (...turned) => {
    const { machine, document: made } = plate(turned)
    const { held } = expectDone(linearMachine(machine, designLayers.all)).operatingPoint
    const [{ reads, estimated, system }] = linearEstimators(made, 'm') as [LinearEstimator]
    expect(estimated).toEqual(['readings.attitude.roll', 'readings.attitude.pitch'])
    const rest = estimated.map((one) => held[one]!) as [number, number]
    const atRest = reads.map((one) => held[one]!)
    // at rest it says what is so
    expect(Math.hypot(...atRest.slice(3))).toBeNear(9.8, { relative: 1e-12 })
    const step = (inputs: readonly number[]) =>
      tiltFilterStep(rest, {
        rates: inputs.slice(0, 3) as never,
        specificForce: inputs.slice(3) as never,
        timeConstant: 0.8,
        dt: 0.01,
      }).tilt as readonly [number, number]
    expect(step(atRest)).toBeNear([...rest], { absolute: 1e-12 })
    reads.forEach((_, k) => {
      const by = 1e-5
      const moved = [1, -1].map((way) => step(atRest.map((value, i) => (i === k ? value + way * by : value))))
      const slope = rest.map((_one, i) => (moved[0]![i]! - moved[1]![i]!) / (2 * by))
      expect(system.b.map((row) => row[k]!)).toBeNear(slope, { absolute: 1e-9 })
    })
  })

  it('has no linear form where nothing is felt', () => {
    const { machine, document: made } = plate([0, 0, 0])
    const floating = { ...made, machines: { m: { ...machine, gravity: 0 } } }
    expect(linearEstimators(floating, 'm')).toEqual([])
  })
})
