import { describe, expect, it } from 'vitest'
import type { Part } from '../../document'
import { blankPart } from '../../kinds'
import { bodyPart, jointPart, mechanismPart } from '../../tests/parts'
import { fullMechanism, machineProblems, mechanismForm, mechanismMotion, numbersOf, outsideOf } from '../index'
import { standardAtmosphere } from '../atmosphere'
import { surroundings } from './index'

/** A ball that slides freely along three axes, with one force on it. */
function ball(force: Part, around: Record<string, Part>): Part {
  const slide = (on: string, axis: readonly number[]) => jointPart('sliding', on, [0, 0, 0], { axis })
  const none: [number, number, number] = [0, 0, 0]
  return mechanismPart(
    {
      x: bodyPart(0, none, none, slide('ground', [1, 0, 0])),
      y: bodyPart(0, none, none, slide('x', [0, 1, 0])),
      ball: bodyPart(2, none, [0.01, 0.01, 0.01], slide('y', [0, 0, 1])),
    },
    { gravity: 0, forces: { force }, surroundings: around },
  )
}

function accelerations(machine: Part, position: readonly number[], velocity: readonly number[], time = 0): number[] {
  expect(machineProblems('m', machine)).toEqual([])
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const { rates } = mechanismMotion(machine, read, fullMechanism, form, [...position, ...velocity], [], [], time)
  return rates.slice(3) as number[]
}

const drag: Part = { kind: 'airDrag', body: 'ball', at: [0, 0, 0], linear: 0, quadratic: 0.1 }
const foot: Part = {
  kind: 'groundContact',
  body: 'ball',
  at: [0, 0, 0],
  radius: 0.1,
  level: 0,
  stiffness: 1000,
  damping: 0,
  friction: 0,
  smooth: 0.01,
}

describe('air and wind', () => {
  it('resist by the velocity against the air', () => {
    const wind: Part = { kind: 'steadyWind', velocity: [3, 0, 0] }
    expect(accelerations(ball(drag, { wind }), [0, 0, 0], [3, 0, 0])[0]).toBeNear(0, { absolute: 1e-15 })
    expect(accelerations(ball(drag, { wind }), [0, 0, 0], [0, 0, 0])[0]).toBeNear((0.1 * 9) / 2, { relative: 1e-12 })
  })

  it('resist in proportion to the density of the air', () => {
    const at = (around: Record<string, Part>, height: number) =>
      accelerations(ball(drag, around), [0, 0, height], [0, 0, 5])[2]! / ((-0.1 * 25) / 2)
    expect(at({}, 5000)).toBeNear(1, { relative: 1e-12 })
    expect(at({ air: { kind: 'evenAir', density: 0.6125 } }, 5000)).toBeNear(0.5, { relative: 1e-12 })
    const thin = (standardAtmosphere(5500).density as number) / 1.225
    expect(at({ air: { kind: 'standardAir', altitude: 500 } }, 5000)).toBeNear(thin, { relative: 1e-12 })
  })

  it('grow with height by the shear of MIL-F-8785C (1980), 3.7.3.3: over a runway by ln(h/0.15 ft), told at 20 ft', () => {
    const foot = 0.3048
    const wind: Part = { kind: 'windProfile', velocity: [10, 0, 0], height: 20 * foot, roughness: 0.15 * foot }
    const at = (height: number) => Math.sqrt((accelerations(ball(drag, { wind }), [0, 0, height], [0, 0, 0])[0]! * 2) / 0.1)
    expect(at(20 * foot)).toBeNear(10, { relative: 1e-12 })
    expect(at(6 * foot)).toBeNear((10 * Math.log(40)) / Math.log(20 / 0.15), { relative: 1e-12 })
    expect(at(0.01)).toBe(0)
  })

  it('gust by half of 1 - cosine, once', () => {
    const gust: Part = { kind: 'cosineGust', velocity: [4, 0, 0], start: 2, length: 3 }
    const push = (time: number) =>
      accelerations(ball({ ...drag, linear: 1, quadratic: 0 }, { gust }), [0, 0, 0], [0, 0, 0], time)[0]!
    expect([1.9, 5.1].map(push)).toEqual([0, 0])
    expect(push(3.5)).toBeNear(4 / 2, { relative: 1e-12 })
    expect(push(2.75)).toBeNear(2 / 2, { relative: 1e-12 })
  })
})

describe('ground', () => {
  it('of a slope pushes along its normal', () => {
    const grade = 0.3
    const machine = ball(foot, { hill: { kind: 'slope', grade, heading: Math.PI / 2 } })
    const up = 1 / Math.hypot(1, grade)
    const [x, y, z] = accelerations(machine, [0, 1, grade * 1 + 0.05 / up], [0, 0, 0]) // centre 0.05 m from the plane
    expect([x, y, z]).toBeNear([0, (-grade * up * 1000 * 0.05) / 2, (up * 1000 * 0.05) / 2], { relative: 1e-9, absolute: 1e-9 })
    const raised = ball(foot, { hill: { kind: 'slope', grade, heading: Math.PI / 2, level: 0.7 } })
    const there = accelerations(raised, [0, 1, 0.7 + grade * 1 + 0.05 / up], [0, 0, 0])
    expect(there).toBeNear([x, y, z], { relative: 1e-9, absolute: 1e-9 })
  })

  it('of a profile is straight between its points and level beyond', () => {
    const machine = ball(foot, {
      kerb: {
        kind: 'groundProfile',
        profile: [
          [1, 0],
          [2, 0.5],
          [3, 0.5],
        ],
      },
    })
    const vertical = (x: number, height: number) => accelerations(machine, [x, 0, height + 0.05], [0, 0, 0])
    for (const [x, height] of [
      [0, 0],
      [2.5, 0.5],
      [9, 0.5],
    ] as const)
      expect(vertical(x, height)).toBeNear([0, 0, 25], { relative: 1e-9, absolute: 1e-9 })
    const [along, , up] = vertical(1.5, 0.25)
    expect(along! / up!).toBeNear(-0.5, { relative: 1e-12 })
  })

  it('of a new height field is flat', () => {
    const { heights } = blankPart(surroundings.find(({ name }) => name === 'heightField')!)
    expect(new Set((heights as readonly (readonly number[])[]).flat())).toEqual(new Set([0]))
  })

  it('of a height field goes through its corners and between them', () => {
    const heights = [
      [0, 0.2, 0.1],
      [0.4, 0.6, 0.3],
    ]
    const machine = ball(foot, { rocks: { kind: 'heightField', heights, spacing: 2, west: -2, south: 1 } })
    const touches = (x: number, y: number, height: number) => {
      const clear = accelerations(machine, [x, y, height + 0.2], [0, 0, 0])
      const deep = accelerations(machine, [x, y, height + 0.001], [0, 0, 0])
      return Math.hypot(...clear) === 0 && Math.hypot(...deep) > 0
    }
    expect(touches(-2, 1, 0)).toBe(true)
    expect(touches(0, 3, 0.6)).toBe(true)
    const middle = (0 + 0.2 + 0.4 + 0.6) / 4
    const [gx, gy] = [(0.2 + 0.2) / 2 / 2, (0.4 + 0.4) / 2 / 2]
    const [x, y, z] = accelerations(machine, [-1, 2, middle], [0, 0, 0])
    expect([x! / z!, y! / z!]).toBeNear([-gx, -gy], { relative: 1e-12 })
    expect(z!).toBeNear((1000 * 0.1) / 2 / Math.hypot(1, gx, gy), { relative: 1e-12 })
  })
})

describe('surroundings', () => {
  it('that say the same twice, or tables that go back, are explained where they are', () => {
    const hill: Part = { kind: 'slope', grade: 0.1, heading: 0 }
    expect(machineProblems('m', ball(foot, { hill, other: hill }))).toMatchObject([
      { where: 'm.surroundings.other', remedy: 'Remove one of the two.' },
    ])
    const back: Part = {
      kind: 'groundProfile',
      profile: [
        [0, 0],
        [2, 1],
        [1, 0],
      ],
    }
    expect(machineProblems('m', ball(foot, { back }))).toMatchObject([
      { where: 'm.surroundings.back.profile', what: 'Row 3 of the table goes back: 1 after 2.' },
    ])
    const ragged: Part = { kind: 'heightField', heights: [[0, 0], [0]], spacing: 1, west: 0, south: 0 }
    expect(machineProblems('m', ball(foot, { ragged }))).toMatchObject([{ where: 'm.surroundings.ragged.heights' }])
  })

  it('follows a profile whose corners are rounded: as the sharp one beyond the rounding, and smooth in it', () => {
    const profile = [[0, 0], [2, 0.6], [5, 0.2]] // prettier-ignore
    const read = (rounding: number) => {
      const part: Part = { kind: 'groundProfile', profile, rounding }
      const outside = outsideOf(part, '', (path) => {
        const [, slot, i, j] = path.split('.')
        return slot === 'rounding' ? rounding : profile[Number(i)]![Number(j)]!
      }, { time: 0, gravity: 9.8 }) // prettier-ignore
      const kind = surroundings.find(({ name }) => name === 'groundProfile')!
      return (x: number) => kind.ground!(outside, x, 0, part as never)
    }
    const [sharp, round] = [read(0), read(0.3)]
    for (const x of [-1, 0.31, 1, 1.69, 2.31, 4, 4.69, 5.31, 9]) {
      expect(round(x).height as number).toBeNear(sharp(x).height as number, { absolute: 1e-12 })
      expect([...round(x).normal]).toBeNear([...sharp(x).normal], { absolute: 1e-12 })
    }
    // a parabola leaves its corner by a quarter of the rounding times the change of slope over 2 of it: by hand
    expect((sharp(2).height as number) - (round(2).height as number)).toBeNear((0.3 * (0.3 + 0.4 / 3)) / 4, { relative: 1e-9 })
    for (const x of [-0.2, 0.1, 1.9, 2.2, 5.1]) {
      const slope = ((round(x + 1e-6).height as number) - (round(x - 1e-6).height as number)) / 2e-6
      const [along, , up] = round(x).normal
      expect(-(along as number) / (up as number)).toBeNear(slope, { absolute: 1e-8 })
    }
  })

  it('heaves with a deck: what falls on one that rises is pushed as if it fell so much faster', () => {
    const deck = (height: number): Part => ({ kind: 'heavingDeck', from: -1, level: 0, height, period: 2, before: -9 })
    const damped = { ...foot, damping: 50 }
    const onDeck = (height: number, speed: number, time: number) =>
      accelerations(ball(damped, { ground: deck(height) }), [0, 0, 0.08], [0, 0, speed], time)[2]
    // at 0 s it passes its level, and rises with half its height times 2π over the period
    expect(onDeck(0.2, 0, 0)).toBeNear(onDeck(0, -0.1 * Math.PI, 0)!, { relative: 1e-12 })
    expect(onDeck(0.2, 0, 0.5)).toBeNear((1000 * (0.1 + 0.1 - 0.08)) / 2, { relative: 1e-12 })
  })

  it.each(surroundings)('$label has a sentence of its own slots and says one thing', (kind) => {
    for (const [, slot] of kind.says.matchAll(/\{(\w+)#?\}/g)) expect(Object.keys(kind.slots)).toContain(slot)
    const said = [kind.density, kind.wind, kind.ground, kind.water, kind.light]
    expect(said.filter((one) => one !== undefined)).toHaveLength(1)
  })
})
