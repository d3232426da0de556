import { describe, expect, it } from 'vitest'
import { partsIn } from '../document'
import type { Part } from '../document'
import { assemble, bodyPoses, energies, machineProblems, numbersOf } from '../machine'
import { demo, demoNames } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { bodyPart, fourBar, fourBarAt, jointPart, mechanismPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { motionEffort } from './index'

const degrees = Math.PI / 180
const motionOf = (coordinates: string, knots: number[][], passing = 'on'): Part => ({
  kind: 'motion',
  coordinates,
  knots,
  passing,
  bandwidth: 40,
})

function effortOf(machine: Part, coordinates: string, knots: number[][], passing = 'on') {
  const moving = { ...machine, motions: { it: motionOf(coordinates, knots, passing) } } as Part
  expect(machineProblems('m', moving)).toEqual([])
  return expectDone(motionEffort(moving, 'it'))
}

const drive = (joint: string, most = 1e6): Part => ({ kind: 'effortDrive', joint, most, inertia: 0 })

describe('the effort of a motion', () => {
  it('of a pendulum is that of its closed form, with the rotor geared to it', () => {
    const [m, l, rotor] = [2, 0.8, 0.3]
    const bob = bodyPart(m, [0, 0, -l], [0, 0, 0], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, -1, 0] }))
    const machine = mechanismPart({ bob }, { drives: { motor: { ...drive('bob.angle'), inertia: rotor } } })
    const { coordinates, drives } = effortOf(machine, 'bob.angle', [
      [0, 0.2],
      [1, 1.4],
      [2, -0.5],
    ])
    coordinates[0]!.along.forEach(({ q, a }, k) => {
      const wanted = (m * l * l + rotor) * a + m * 9.80665 * l * Math.sin(q)
      expect(drives[0]!.values[k]!).toBeNear(wanted, { relative: 1e-9, absolute: 1e-9 })
    })
    expect(drives[0]!.peak).toBe(Math.max(...drives[0]!.values.map(Math.abs)))
  })

  // elementary virtual work, computed twice; see the file
  const linkage = reference<
    {
      four_bar: Record<'crank' | 'coupler' | 'rocker' | 'ground' | 'rocker_moment', number>
      slider_crank: Record<'r' | 'l' | 'offset_e' | 'force_on_slider_x', number>
    },
    {
      four_bar: { crank_deg: number; crank_torque_to_balance_M4_10: number }[]
      slider_crank: { crank_deg: number; slider_x: number; rod_angle_deg: number; crank_torque_to_balance: number }[]
    }
  >('kin-linkage-torque')

  it.each(linkage.expected.four_bar)('balances a moment on the rocker of a four-bar, crank at $crank_deg degrees', (one) => {
    const { crank, coupler, rocker, ground, rocker_moment } = linkage.inputs.four_bar
    const angle = one.crank_deg * degrees
    const bar = fourBarAt({ crank, coupler, rocker, ground }, angle)
    const bodies = Object.entries(partsIn(bar.bodies)).map(([name, body]) => [name, { ...body, inertia: [1, 1, 1, 0, 0, 0] }])
    const machine = {
      ...bar,
      bodies: Object.fromEntries(bodies) as Record<string, Part>,
      gravity: 0,
      drives: { motor: drive('crank.angle') },
      forces: { moment: { kind: 'formulaEffort', joint: 'rocker.angle', effort: String(rocker_moment) } },
    }
    const { drives, unmet } = effortOf(machine, 'crank.angle', [
      [0, angle],
      [1, angle],
    ])
    expect(drives[0]!.values[0]!).toBeNear(one.crank_torque_to_balance_M4_10, { relative: 1e-7 })
    expect(unmet).toEqual([])
  })

  it.each(linkage.expected.slider_crank)('balances a force on a slider, crank at $crank_deg degrees', (one) => {
    const { r, l, offset_e, force_on_slider_x } = linkage.inputs.slider_crank
    const z = { axis: [0, 0, 1] }
    const none: [number, number, number] = [0.001, 0.001, 0.001]
    const angle = one.crank_deg * degrees
    const machine = mechanismPart(
      {
        crank: bodyPart(0.1, [0, 0, 0], none, jointPart('turning', 'ground', [0, 0, 0], { ...z, start: angle })),
        rod: bodyPart(
          0.1,
          [0, 0, 0],
          none,
          jointPart('turning', 'crank', [r, 0, 0], { ...z, start: -one.rod_angle_deg * degrees - angle }),
        ),
        slider: bodyPart(
          0.1,
          [0, 0, 0],
          none,
          jointPart('sliding', 'ground', [0, offset_e, 0], { axis: [1, 0, 0], start: one.slider_x }),
        ),
      },
      {
        gravity: 0,
        chains: {
          pin: {
            kind: 'hinged',
            from: 'rod',
            fromAt: [l, 0, 0],
            to: 'slider',
            toAt: [0, 0, 0],
            axis: [0, 0, 1],
            toAxis: [0, 0, 1],
          },
        },
        drives: { motor: drive('crank.angle') },
        forces: { push: { kind: 'formulaForce', body: 'slider', at: [0, 0, 0], x: String(force_on_slider_x), y: '0', z: '0' } },
      },
    )
    const { drives } = effortOf(machine, 'crank.angle', [
      [0, angle],
      [1, angle],
    ])
    expect(drives[0]!.values[0]!).toBeNear(one.crank_torque_to_balance, { relative: 1e-7 })
  })

  it('puts in the energy that the machine gains, closed chains and all', () => {
    // without friction or springs, the work of the drives is the change of kinetic and potential energy
    const { machines } = demo('boarding-ramp')
    const { forces: _forces, sensors: _sensors, ...ramp } = Object.values(machines)[0]!
    const machine = ramp
    const assembly = assemble(machine, numbersOf(machine))
    const driven = Object.values(partsIn(machine.drives)).map(({ joint }) => joint as string)
    const start = driven.map((name) => assembly.start[assembly.positions.findIndex((one) => one.name === name)]!)
    const { time, drives, poses, coordinates } = effortOf(machine, driven.join(' '), [
      [0, ...start],
      [1.5, ...start.map((value) => value + 0.15)],
      [3, ...start.map((value) => value - 0.1)],
    ])
    let work = 0
    for (let k = 1; k < time.length; k++)
      driven.forEach((_, d) => {
        const power = (i: number) => drives[d]!.values[i]! * coordinates[d]!.along[i]!.v
        work += 0.5 * (power(k) + power(k - 1)) * (time[k]! - time[k - 1]!)
      })
    const potential = (q: readonly number[]) =>
      energies(assembly.tree, { q, speeds: assembly.speeds.map(() => 0) }).potential as number
    expect(work).toBeNear(potential(poses.at(-1)!) - potential(poses[0]!), { relative: 2e-3 }) // trapezoids over 240 samples
    expect(bodyPoses(assembly.tree, poses[0]!).length).toBeGreaterThan(0)
  })

  it('names coordinates that would need a push that no drive gives', () => {
    const arm = bodyPart(1, [0.5, 0, 0], [0.01, 0.01, 0.01], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, -1, 0] }))
    const tip = bodyPart(1, [0.5, 0, 0], [0.01, 0.01, 0.01], jointPart('turning', 'arm', [1, 0, 0], { axis: [0, -1, 0] }))
    const machine = mechanismPart({ arm, tip }, { drives: { motor: drive('arm.angle') } })
    const { unmet } = effortOf(machine, 'arm.angle', [
      [0, 0],
      [1, 0.5],
    ])
    expect(unmet.map(({ name, unit }) => [name, unit])).toEqual([['tip.angle', 'N·m']])
  })

  it('is followed by loops, the nearer the faster they are, unless a drive is too weak', () => {
    const bob = bodyPart(2, [0, 0, -0.8], [0.01, 0.01, 0.01], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, -1, 0] }))
    const follow = (bandwidth: number, most = 1e6) => {
      const machine = mechanismPart({ bob }, { drives: { motor: drive('bob.angle', most) } })
      const motions = {
        it: {
          ...motionOf('bob.angle', [
            [0, 0],
            [2, 1],
          ]),
          bandwidth,
        },
      }
      const effort = expectDone(motionEffort({ ...machine, motions } as Part, 'it'))
      const { followed, drives } = effort
      // shown as often as the motion has poses, over the whole of it
      expect(followed.time).toBeNear([...effort.time], { absolute: 5e-3 })
      return { error: followed.errors[0]!.most, share: drives[0]!.share! }
    }
    const [slow, fast] = [follow(10), follow(40)]
    expect(fast.error).toBeLessThan(slow.error / 8) // a steady load leaves load/stiffness, and stiffness grows with the square
    const weak = follow(40, 8)
    expect(weak.share).toBeGreaterThan(1)
    expect(weak.error).toBeGreaterThan(10 * fast.error)
  })
})

describe('problems of motions', () => {
  const arm = bodyPart(1, [0.5, 0, 0], [0.01, 0.01, 0.01], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, -1, 0] }))
  const machine = mechanismPart({ arm }, { drives: { motor: drive('arm.angle') } })
  it.each<[string, string, number[][], string, RegExp]>([
    [
      'an unknown coordinate',
      'arm.angel',
      [
        [0, 0],
        [1, 1],
      ],
      'coordinates',
      /no coordinate named arm.angel/,
    ],
    ['nothing named', ' ', [[0], [1]], 'coordinates', /moves nothing/],
    [
      'a coordinate twice',
      'arm.angle arm.angle',
      [
        [0, 0, 0],
        [1, 1, 1],
      ],
      'coordinates',
      /named twice/,
    ],
    ['a pose too short', 'arm.angle', [[0, 0], [1]], 'knots', /Pose 2 has 1 numbers; 2 are wanted/],
    [
      'times that go back',
      'arm.angle',
      [
        [0, 0],
        [2, 1],
        [1, 1],
      ],
      'knots',
      /Row 3 of the table goes back/,
    ],
    ['one pose', 'arm.angle', [[0, 0]], 'knots', /needs two/],
  ])('%s is explained where it is', (_, coordinates, knots, slot, what) => {
    const [problem] = machineProblems('m', { ...machine, motions: { it: motionOf(coordinates, knots) } } as Part)
    expect(problem!.where).toBe(`m.motions.it.${slot}`)
    expect(problem!.what).toMatch(what)
  })

  it('poses that chains cannot reach are refused with the time', () => {
    const bar = fourBar({ crank: 0.3, coupler: 0.32, rocker: 0.25, ground: 0.5 }, { crank: 0.8, coupler: -0.6, rocker: 1.4 })
    const moving = {
      ...bar,
      motions: {
        it: motionOf('crank.angle', [
          [0, 0.8],
          [1, 3.1],
        ]),
      },
    } as Part
    expect(motionEffort(moving, 'it')).toMatchObject({
      kind: 'refused',
      problems: [{ what: expect.stringMatching(/^At 0\.\d+ s the chains cannot close/) as string }],
    })
  })
})

describe('motions of the demo', () => {
  const moving = demoNames.flatMap((name) =>
    Object.values(demo(name).machines).flatMap((machine) =>
      Object.keys(partsIn(machine.motions)).map((motion) => ({ name, motion, machine })),
    ),
  )
  it.each(moving)('$name, $motion: drives reach it', ({ machine, motion }) => {
    const { drives, unmet, followed } = expectDone(motionEffort(machine, motion))
    // a hanging part that the motion does not name may ask for a push
    const named = partsIn(machine.motions)[motion]!.coordinates as string
    expect(unmet.filter(({ name }) => named.includes(name))).toEqual([])
    for (const { share } of drives) if (share !== undefined) expect(share).toBeLessThan(1)
    expect(followed.diverged).toBe(false)
  })
})
