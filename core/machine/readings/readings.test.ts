import { describe, expect, it } from 'vitest'
import { rotation } from '../../algebra'
import type { Quaternion } from '../../algebra'
import type { Part } from '../../document'
import { bodyPart, jointPart, mechanismPart, plausible } from '../../tests/parts'
import { numbersFrom } from '../../tests/randomGraph'
import { findHeld, fullMechanism, machineProblems, mechanismForm, mechanismMotion, numbersOf, shortName } from '../index'
import { readSignals, readings } from './index'

/** Two free bodies in a wind; only the first is pushed, by gravity alone. */
const twoBodies = (looks: Record<string, Part>) =>
  mechanismPart(
    {
      hull: bodyPart(2, [0, 0, 0], [0.1, 0.2, 0.25], jointPart('free', 'ground', [0, 0, 0])),
      buoy: bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('free', 'ground', [0, 0, 0])),
    },
    { readings: looks, surroundings: { breeze: { kind: 'steadyWind', velocity: [3, -1, 0.5] } } },
  )

/** Values of all readings at a state, by name; `moved` goes on for so many seconds with the accelerations there. */
function lookAt(machine: Part, states: readonly number[]) {
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const { signals, rates } = mechanismMotion(machine, read, fullMechanism, form, states, [], [])
  const values = new Map(signals.map(({ name, value }) => [name, value as number]))
  return {
    of: (name: string) => values.get(name)!,
    moved: (by: number) => states.map((value, i) => value + by * (rates[i] as number)),
    rates: rates as readonly number[],
  }
}

const turned = (next: () => number): number[] => {
  const q = Array.from({ length: 4 }, () => 2 * next() - 1)
  return q.map((value) => value / Math.hypot(...q))
}

/** Attitude and place of both, then speeds of both. */
const somewhere = (seed: number) => {
  const next = numbersFrom(seed)
  const place = () => Array.from({ length: 3 }, () => 4 * next() - 2)
  const positions = [...turned(next), ...place(), ...turned(next), ...place()]
  return [...positions, ...Array.from({ length: 12 }, () => 2 * next() - 1)]
}

const names = { body: 'hull', from: 'buoy' }
const part = (kind: string, more: Part | Record<string, unknown> = {}): Part => {
  const found = readings.find(({ name }) => name === kind)!
  return { ...plausible(found, names, () => 0.3), kind, ...more } as Part
}

describe.each(readings.filter(({ slots }) => 'body' in slots))('the reading of $label', (kind) => {
  it('names as many values as it gives, each with the value that is its rate', () => {
    const machine = twoBodies({ it: part(kind.name) })
    const states = somewhere(3)
    const { of } = lookAt(machine, states)
    const all = readSignals(machine)
    expect(all.length).toBeGreaterThan(0)
    for (const { name, rate } of all) {
      expect(Number.isFinite(of(name))).toBe(true)
      if (rate !== undefined) expect(all.map((one) => one.name)).toContain(rate)
    }
  })
})

describe('values over time', () => {
  const h = 1e-6
  // axes of tilt and attitude turn with the body: their rates are those of the angles only where it is level
  const exact = [
    ['placeReading', { from: 'ground' }],
    ['placeReading', { from: 'buoy' }],
    ['distanceReading', { from: 'buoy' }],
    ['distanceReading', { from: 'ground' }],
  ] as const
  it.each(exact)('of %s %o change by their rates', (kind, more) => {
    const machine = twoBodies({ it: part(kind, more) })
    for (const seed of [1, 2, 3]) {
      const states = somewhere(seed)
      const now = lookAt(machine, states)
      const [later, sooner] = [h, -h].map((by) => lookAt(machine, now.moved(by)))
      for (const { name, rate } of readSignals(machine)) {
        if (rate === undefined) continue
        expect((later!.of(name) - sooner!.of(name)) / (2 * h)).toBeNear(now.of(rate), { relative: 1e-6, absolute: 1e-7 })
      }
    }
  })

  it('of a velocity along its own axes, turned into the world, are the rates of the place, and of those the acceleration', () => {
    const at = [0.2, -0.1, 0.4]
    const machine = twoBodies({
      place: part('placeReading', { at, from: 'ground', fromAt: [0, 0, 0] }),
      own: part('velocityReading', { at, through: 'ground' }),
      air: part('velocityReading', { at, through: 'air' }),
      felt: part('accelerationReading', { at, along: 'world' }),
      feltOwn: part('accelerationReading', { at, along: 'body' }),
    })
    const states = somewhere(5)
    const now = lookAt(machine, states)
    const axes = rotation(states.slice(0, 4) as unknown as Quaternion) as unknown as number[][]
    const inWorld = (own: readonly number[]) => axes.map((row) => row.reduce((sum, value, k) => sum + value * own[k]!, 0))
    const values = (reading: string, ...of: string[]) => of.map((one) => now.of(`readings.${reading}.${one}`))
    const passing = values('place', 'eastRate', 'northRate', 'climbRate')
    expect(inWorld(values('own', 'ahead', 'left', 'up'))).toBeNear(passing, { relative: 1e-12 })
    const through = passing.map((value, k) => value - [3, -1, 0.5][k]!)
    expect(inWorld(values('air', 'ahead', 'left', 'up'))).toBeNear(through, { relative: 1e-12 })
    expect(now.of('readings.air.speed')).toBeNear(Math.hypot(...through), { relative: 1e-12 })
    expect(now.of('readings.own.speed')).toBeNear(Math.hypot(passing[0]!, passing[1]!), { relative: 1e-12 })
    expect(now.of('readings.own.course')).toBeNear(Math.atan2(passing[1]!, passing[0]!), { relative: 1e-12 })
    const [later, sooner] = [h, -h].map((by) => lookAt(machine, now.moved(by)))
    const gained = ['eastRate', 'northRate', 'climbRate'].map(
      (one) => (later!.of(`readings.place.${one}`) - sooner!.of(`readings.place.${one}`)) / (2 * h),
    )
    expect(values('felt', 'east', 'north', 'up')).toBeNear(gained, { relative: 1e-5, absolute: 1e-6 })
    expect(inWorld(values('feltOwn', 'ahead', 'left', 'up'))).toBeNear(values('felt', 'east', 'north', 'up'), { relative: 1e-12 })
  })
})

// axes: x ahead or east, y to the left or north, z up
describe('which way readings count', () => {
  const machine = twoBodies({
    place: part('placeReading', { at: [0, 0, 0], from: 'ground', fromAt: [1, 0, 0] }),
    beside: part('placeReading', { body: 'buoy', at: [0, 0, 0], from: 'hull', fromAt: [0, 0, 0] }),
    attitude: part('attitudeReading', { from: 'ground' }),
  })
  const quarter = Math.SQRT1_2
  const placed = (q: readonly number[], buoy = [1, 2, 3]) =>
    lookAt(machine, [...q, 5, 6, 7, 1, 0, 0, 0, ...buoy, ...new Array<number>(12).fill(0)])
  const level = [1, 0, 0, 0]

  it('places from the point they are counted from', () => {
    const { of } = placed(level)
    expect(['east', 'north', 'height'].map((one) => of(`readings.place.${one}`))).toEqual([4, 6, 7])
  })
  it('what lies to the west lies to the left of what heads north', () => {
    const { of } = placed([quarter, 0, 0, quarter], [3, 6, 8])
    expect(['ahead', 'left', 'above'].map((one) => of(`readings.beside.${one}`))).toBeNear([0, 2, 1], { absolute: 1e-12 })
    expect(of('readings.attitude.heading')).toBeNear(Math.PI / 2, { absolute: 1e-12 })
  })
  it('a nose that is down is a pitch above 0, a left side that is up a roll above 0', () => {
    const half = Math.sin(0.15)
    const down = placed([Math.cos(0.15), 0, half, 0])
    expect(down.of('readings.attitude.pitch')).toBeNear(0.3, { absolute: 1e-12 })
    expect([down.of('readings.attitude.tiltEast'), down.of('readings.attitude.tiltNorth')]).toBeNear([0, 0.3], {
      absolute: 1e-12,
    })
    const up = placed([Math.cos(0.15), half, 0, 0])
    expect(up.of('readings.attitude.roll')).toBeNear(0.3, { absolute: 1e-12 })
    expect([up.of('readings.attitude.tiltEast'), up.of('readings.attitude.tiltNorth')]).toBeNear([0.3, 0], { absolute: 1e-12 })
  })
  it('an attitude against another body is what is turned from that to this', () => {
    const seen = twoBodies({ it: part('attitudeReading', { body: 'buoy', from: 'hull' }) })
    const half = (angle: number) => [Math.cos(angle / 2), 0, 0, Math.sin(angle / 2)]
    // both turn left, the buoy faster
    const turning = (rate: number) => [0, 0, rate, 0, 0, 0]
    const states = [...half(0.5), 0, 0, 0, ...half(0.8), 0, 0, 0, ...turning(0.2), ...turning(0.9)]
    expect(lookAt(seen, states).of('readings.it.heading')).toBeNear(0.3, { absolute: 1e-12 })
    expect(lookAt(seen, states).of('readings.it.yawRate')).toBeNear(0.7, { absolute: 1e-12 })
  })
})

describe('formulas', () => {
  it('know the readings before them, and sensors all', () => {
    const machine = {
      ...twoBodies({
        place: part('placeReading', { at: [0, 0, 0], from: 'ground', fromAt: [0, 0, 0] }),
        twice: part('formulaReading', { reading: '2 * readings.place.height + 1', unit: 'm', angle: 'none' }),
      }),
      sensors: { echo: { kind: 'formulaSensor', reading: 'readings.twice - readings.place.height', unit: 'm', rate: 50 } },
    }
    expect(machineProblems('m', machine)).toEqual([])
    const states = somewhere(9)
    const { of } = lookAt(machine, states)
    expect(of('readings.twice')).toBe(2 * states[6]! + 1)
    expect(of('sensors.echo')).toBe(states[6]! + 1)
  })
  it('do not know those after them', () => {
    const machine = twoBodies({
      twice: part('formulaReading', { reading: '2 * readings.place.height', unit: 'm' }),
      place: part('placeReading', { from: 'ground' }),
    })
    expect(machineProblems('m', machine)).toMatchObject([{ where: 'm.readings.twice.reading', what: /readings.place.height/ }])
  })
  it('and bodies must be there', () => {
    const machine = twoBodies({ place: part('placeReading', { body: 'hul', from: 'ground' }) })
    expect(machineProblems('m', machine)).toMatchObject([{ where: 'm.readings.place.body', remedy: /hull/ }])
  })
})

describe('words', () => {
  it('say no more than tells readings apart', () => {
    const place = (body: string) => part('placeReading', { body, from: 'ground' })
    const one = twoBodies({ place: place('hull') })
    expect(findHeld(one, 'readings.place.height')).toMatchObject({ label: 'height', unit: 'm', rate: 'readings.place.climbRate' })
    const two = twoBodies({ first: place('hull'), second: place('buoy'), mark: { ...place('buoy'), label: 'the lamp' } as Part })
    expect(shortName('readings.first.height', two)).toBe('height of hull')
    expect(shortName('readings.second.height', two)).toBe('height of second')
    expect(shortName('readings.mark.climbRate', two)).toBe('climb rate of the lamp')
  })
})
