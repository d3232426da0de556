import { describe, expect, it } from 'vitest'
import type { Part } from '../../document'
import { bodyPart, jointPart, mechanismPart, plausible } from '../../tests/parts'
import { fullMechanism, machineProblems, mechanismForm, mechanismMotion, numbersOf } from '../index'
import { mechanismSensors } from './index'

const g = 9.80665
const perfect = { rate: 100 }

function readings(machine: Part, states: readonly number[]): Record<string, number> {
  expect(machineProblems('m', machine)).toEqual([])
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const { signals } = mechanismMotion(machine, read, fullMechanism, form, states, [], [])
  return Object.fromEntries(signals.map(({ name, value }) => [name, value as number]))
}

/** A point mass on a massless rod of length l, hanging down at angle 0. */
function pendulum(sensors: Record<string, Part>, l = 0.8): Part {
  const bob = bodyPart(2, [0, 0, -l], [0, 0, 0], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, -1, 0] }))
  return mechanismPart({ bob }, { sensors })
}

describe('an accelerometer', () => {
  const at = (place: readonly number[]): Part => ({ kind: 'accelerometer', body: 'bob', at: place, ...perfect })

  it('on the bob of a pendulum reads the pull of its rod and nothing across it', () => {
    // the bob's specific force is the rod's force over its mass: l w² + g cos(angle), along the rod alone
    const [angle, rate] = [0.7, 1.9]
    const read = readings(pendulum({ a: at([0, 0, -0.8]) }), [angle, rate])
    expect(read['sensors.a.x']).toBeNear(0, { absolute: 1e-12 })
    expect(read['sensors.a.z']).toBeNear(0.8 * rate ** 2 + g * Math.cos(angle), { relative: 1e-12 })
  })

  it('at the pivot reads gravity as a rest would', () => {
    const read = readings(pendulum({ a: at([0, 0, 0]) }), [0.7, 1.9])
    expect(Math.hypot(read['sensors.a.x']!, read['sensors.a.z']!)).toBeNear(g, { relative: 1e-12 })
  })

  it('in free fall reads nothing, whatever it turns', () => {
    const body = bodyPart(3, [0, 0, 0], [0.1, 0.2, 0.25], { kind: 'free', on: 'ground', at: [0, 0, 0], turned: [0, 0, 0] })
    const machine = mechanismPart({ bob: body }, { sensors: { a: at([0, 0, 0]) } })
    const read = readings(machine, [0, 0, 0, 1, 0, 0, 0, 3, -2, 1, 0.5, 0, 1].slice(0, 13))
    expect(Math.hypot(read['sensors.a.x']!, read['sensors.a.y']!, read['sensors.a.z']!)).toBeNear(0, { absolute: 1e-12 })
  })
})

describe('other sensors', () => {
  const sensors: Record<string, Part> = {
    angle: { kind: 'encoder', joint: 'bob.angle', ...perfect },
    speed: { kind: 'tachometer', joint: 'bob.angle', ...perfect },
    gyro: { kind: 'gyroscope', body: 'bob', ...perfect },
    fix: { kind: 'positionFix', body: 'bob', at: [0, 0, -0.8], ...perfect },
    own: { kind: 'formulaSensor', reading: '2 * bob.angle + bob.rate^2', ...perfect },
  }

  it('read the joint, the turning, the place and any formula', () => {
    const read = readings(pendulum(sensors), [0.6, -1.5])
    expect(read['sensors.angle']).toBe(0.6)
    expect(read['sensors.speed']).toBe(-1.5)
    expect([read['sensors.gyro.x'], read['sensors.gyro.y'], read['sensors.gyro.z']]).toBeNear([0, 1.5, 0], { absolute: 1e-14 })
    expect([read['sensors.fix.x'], read['sensors.fix.z']]).toBeNear([0.8 * Math.sin(0.6), 1 - 0.8 * Math.cos(0.6)], {
      relative: 1e-12,
    })
    expect(read['sensors.own']).toBeNear(1.2 + 2.25, { relative: 1e-14 })
  })

  it('measure the way to the ground along their axis, within their ends and cone', () => {
    const beam = (more: Record<string, unknown>) =>
      pendulum({
        eye: {
          kind: 'distanceSensor',
          body: 'bob',
          at: [0, 0, 0],
          axis: [0, 0, -2],
          nearest: 0.2,
          farthest: 5,
          cone: 0.6,
          ...perfect,
          ...more,
        },
      })
    const read = (angle: number, more: Record<string, unknown> = {}) => readings(beam(more), [angle, 0])['sensors.eye']
    expect(read(0)).toBeNear(1, { relative: 1e-12 })
    expect(read(0.5)).toBeNear(1 / Math.cos(0.5), { relative: 1e-12 })
    expect(read(0.7)).toBe(5)
    expect(read(2)).toBe(5)
    expect(read(0, { farthest: 0.5 })).toBe(0.5)
    expect(read(0, { nearest: 1.5 })).toBe(1.5)
  })

  it('with ends that cross, or formulas with unknown names, are explained where they are', () => {
    const wrong = pendulum({
      eye: { kind: 'encoder', joint: 'bob.angle', rate: 10, least: 2, most: 1 },
      own: { kind: 'formulaSensor', reading: '2 * bob.angel', rate: 10 },
    })
    expect(machineProblems('m', wrong)).toMatchObject([
      { where: 'm.sensors.eye.least', remedy: 'Give less than 1.' },
      { where: 'm.sensors.own.reading', remedy: 'Did you mean bob.angle?' },
    ])
    expect(machineProblems('m', wrong)[1]!.what).toMatch(/column 5/)
  })

  it.each(mechanismSensors)('$label has a sentence of its own slots', (kind) => {
    for (const [, slot] of kind.says.matchAll(/\{(\w+)#?\}/g)) expect(Object.keys(kind.slots)).toContain(slot)
    const part = plausible(kind, { joint: 'bob.angle', body: 'bob', reading: '1' }, (slot) =>
      slot === 'farthest' || slot === 'most' ? 9 : 0.5,
    )
    expect(Object.keys(readings(pendulum({ it: part }), [0.1, 0.2])).length).toBeGreaterThan(0)
  })
})
