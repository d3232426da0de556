import { describe, expect, it } from 'vitest'
import type { Part } from '../../document'
import { bodyPart, jointPart, mechanismPart } from '../../tests/parts'
import { findPush, machineProblems, mechanismForm, mechanismMotion, numbersOf, pushesOf, spread } from '../index'

type Triple = readonly [number, number, number]

const free = jointPart('free', 'ground', [0, 0, 0])
const torque = (axis: Triple): Part => ({ kind: 'bodyPush', body: 'bus', sort: 'torque', at: [0, 0, 0], axis })

/** A small satellite with four wheels that lean outward from its z axis, as reaction wheels often do. */
function satellite(more: Record<string, unknown> = {}): Part {
  const lean = Math.SQRT1_2
  const axes: readonly Triple[] = [[lean, 0, lean], [0, lean, lean], [-lean, 0, lean], [0, -lean, lean]] // prettier-ignore
  const wheels = axes.map((axis, i): [string, Part] => [
    `wheel${i + 1}`,
    bodyPart(0.2, [0, 0, 0], [1e-4, 1e-4, 1e-4], jointPart('turning', 'bus', [0, 0, 0], { axis })),
  ])
  const names = wheels.map(([name]) => name)
  return mechanismPart(
    { bus: bodyPart(12, [0, 0, 0], [0.3, 0.4, 0.5], free), ...Object.fromEntries(wheels) },
    {
      gravity: 0,
      drives: Object.fromEntries(names.map((name) => [name, { kind: 'effortDrive', joint: `${name}.angle`, most: 0.02 }])),
      pushes: { roll: torque([1, 0, 0]), pitch: torque([0, 1, 0]), yaw: torque([0, 0, 1]) },
      allocations: {
        wheels: {
          kind: 'fixedMix',
          pushes: 'pushes.roll pushes.pitch pushes.yaw',
          drives: names.map((name) => `drives.${name}`).join(' '),
        },
      },
      ...more,
    },
  )
}

/** What a body is accelerated by when pushes are asked, through its drives. */
function answered(machine: Part, asked: Readonly<Record<string, number>>) {
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const given = spread(machine, read, (push) => asked[push] ?? 0, false)
  const inputs = form.inputs.map(({ name }) => given.get(name) as number)
  const start = form.states.map(({ atRest }) => atRest)
  const { rates } = mechanismMotion(machine, read, new Set(), form, start, inputs, [])
  const of = (name: string) => rates[form.states.findIndex((state) => state.name === name)] as number
  return { inputs, of, given }
}

describe('torques on a satellite', () => {
  it('are given by its wheels as if something turned the bus from outside', () => {
    const machine = satellite()
    const asked = { 'pushes.roll': 0.003, 'pushes.pitch': -0.002, 'pushes.yaw': 0.001 }
    const { of, inputs } = answered(machine, asked)
    // a torque from outside turns the bus with the wheels free to turn about their own axes: as they lean by 45° and turn
    // easily, all but 1e-4/2 of each about theirs goes along; by hand for z: 4 wheels, each half of its inertia about z
    const about = (inertia: number, share: number) => inertia + 4 * 1e-4 * (1 - share)
    expect(of('bus.wz')).toBeNear(0.001 / about(0.5, 0.5), { relative: 1e-9 })
    expect(of('bus.wx')).toBeNear(0.003 / about(0.3, 0.25), { relative: 1e-9 })
    expect(of('bus.wy')).toBeNear(-0.002 / about(0.4, 0.25), { relative: 1e-9 })
    // a wheel pushes the bus the other way round
    expect(inputs.reduce((sum, effort) => sum + effort * Math.SQRT1_2, 0)).toBeNear(-0.001, { relative: 1e-9 })
    // the least of all ways: what four wheels can do that turns nothing is not asked of them
    const [a, b, c, d] = inputs as [number, number, number, number]
    expect(a - b + c - d).toBeNear(0, { absolute: 1e-15 })
  })

  it('are what loops can push, instead of the wheels', () => {
    expect(pushesOf(satellite()).map(({ name, label, unit }) => [name, label, unit])).toEqual([
      ['pushes.roll', 'roll', 'N·m'],
      ['pushes.pitch', 'pitch', 'N·m'],
      ['pushes.yaw', 'yaw', 'N·m'],
    ])
    expect(machineProblems('m', satellite())).toEqual([])
  })
})

/** A carrier on two wheels, seen from above: two drives that push it ahead at either side. */
function carrier(more: Record<string, unknown> = {}): Part {
  const slide = (on: string, axis: Triple) => jointPart('sliding', on, [0, 0, 0], { axis })
  return mechanismPart(
    { left: bodyPart(1, [0, 0, 0], [1, 1, 1], slide('ground', [1, 0, 0])), right: bodyPart(1, [0, 0, 0], [1, 1, 1], slide('ground', [1, 0, 0])) }, // prettier-ignore
    {
      drives: {
        left: { kind: 'effortDrive', joint: 'left.travel', most: 5 },
        right: { kind: 'effortDrive', joint: 'right.travel', most: 5 },
      },
      pushes: {
        ahead: { kind: 'mixedPush', drives: 'drives.left drives.right', shares: [[1, 1]] },
        turn: { kind: 'mixedPush', drives: 'drives.left drives.right', shares: [[-1, 1]] },
      },
      allocations: { wheels: { kind: 'fixedMix', pushes: 'pushes.ahead pushes.turn', drives: 'drives.left drives.right' } },
      ...more,
    },
  )
}

describe('mixtures of drives', () => {
  it('ask each for its share, alone and together', () => {
    expect(answered(carrier(), { 'pushes.ahead': 2 }).inputs).toBeNear([2, 2], { absolute: 1e-12 })
    expect(answered(carrier(), { 'pushes.ahead': 2, 'pushes.turn': 0.5 }).inputs).toBeNear([1.5, 2.5], { absolute: 1e-12 })
    expect(findPush(carrier(), 'pushes.turn')).toMatchObject({ unit: 'N' })
  })

  it('keep what counts most where drives have too little', () => {
    const within = (counts: readonly number[]) => {
      const lists = { pushes: 'pushes.ahead pushes.turn', drives: 'drives.left drives.right' }
      const machine = carrier({ allocations: { wheels: { kind: 'withinLimits', ...lists, counts: [counts] } } })
      const read = numbersOf(machine)
      const given = spread(machine, read, (push) => (push === 'pushes.ahead' ? 8 : 2), true)
      return [given.get('drives.left') as number, given.get('drives.right') as number]
    }
    // 6 and 10 are asked of drives that have 5: turning kept, or going ahead
    expect(within([0.01, 10])).toBeNear([1, 5], { absolute: 1e-2 })
    expect(within([10, 0.01])).toBeNear([5, 5], { absolute: 1e-2 })
  })

  it('may be typed instead', () => {
    const typed = carrier({
      allocations: {
        wheels: { kind: 'typedMix', pushes: 'pushes.ahead pushes.turn', drives: 'drives.left drives.right', mix: [[1, -2], [1, 3]] }, // prettier-ignore
      },
    })
    expect(machineProblems('m', typed)).toEqual([])
    expect(answered(typed, { 'pushes.ahead': 1, 'pushes.turn': 1 }).inputs).toEqual([-1, 4])
  })
})

describe('pushes that cannot be', () => {
  const lists = { pushes: 'pushes.ahead pushes.turn', drives: 'drives.left drives.right' }
  const wheels = (more: Record<string, unknown>) => carrier({ allocations: { wheels: { kind: 'fixedMix', ...lists, ...more } } })
  it.each([
    ['that nothing gives', carrier({ allocations: {} }), 'm.pushes.ahead', /spread over no drives/],
    ['of a drive that is not there', wheels({ drives: 'drives.left drives.rihgt' }), 'm.allocations.wheels.drives', /rihgt/],
    ['that are not there', wheels({ pushes: 'pushes.ahead pushes.trun' }), 'm.allocations.wheels.pushes', /trun/],
    ['named twice', wheels({ pushes: 'pushes.ahead pushes.ahead' }), 'm.allocations.wheels.pushes', /twice/],
    ['that nothing names', wheels({ pushes: '' }), 'm.allocations.wheels.pushes', /names no push/],
    [
      'more than drives',
      satellite({
        allocations: {
          wheels: { kind: 'fixedMix', pushes: 'pushes.roll pushes.pitch pushes.yaw', drives: 'drives.wheel1 drives.wheel2' },
        },
      }),
      'm.allocations.wheels.pushes',
      /3 pushes are more than 2 drives/,
    ],
    [
      'that drives give only together',
      carrier({
        pushes: {
          ahead: { kind: 'mixedPush', drives: 'drives.left drives.right', shares: [[1, 1]] },
          turn: { kind: 'mixedPush', drives: 'drives.left drives.right', shares: [[2, 2]] },
        },
      }),
      'm.allocations.wheels.pushes',
      /cannot be told apart|only together/,
    ],
    [
      'mixed of drives that are not given',
      carrier({ allocations: { wheels: { kind: 'fixedMix', pushes: 'pushes.ahead', drives: 'drives.left' } }, pushes: { ahead: { kind: 'mixedPush', drives: 'drives.left drives.right', shares: [[1, 1]] } } }), // prettier-ignore
      'm.allocations.wheels.drives',
      /mixture with drives.right/,
    ],
    [
      'with too few shares',
      carrier({ pushes: { ahead: { kind: 'mixedPush', drives: 'drives.left drives.right', shares: [[1]] } } }),
      'm.pushes.ahead.shares',
      /1 of 2 are wanted/,
    ],
    [
      'on ground',
      satellite({ pushes: { roll: { ...torque([1, 0, 0]), body: 'ground' } } }),
      'm.pushes.roll.body',
      /Ground does not/,
    ],
    ['about no axis', satellite({ pushes: { roll: torque([0, 0, 0]) } }), 'm.pushes.roll.axis', /no direction/],
    [
      'in two allocations',
      carrier({ allocations: { one: { kind: 'fixedMix', ...lists }, two: { kind: 'fixedMix', ...lists } } }),
      'm.allocations.two.pushes',
      /another allocation/,
    ],
  ])('%s are told with their place', (_what, machine, where, words) => {
    const [problem] = machineProblems('m', machine)
    expect(problem!.where).toBe(where)
    expect(problem!.what).toMatch(words)
    expect(problem!.remedy.length).toBeGreaterThan(5)
  })
})
