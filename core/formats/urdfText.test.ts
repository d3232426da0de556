import { describe, expect, it } from 'vitest'
import { partsIn } from '../document'
import type { Part } from '../document'
import { assemble, bodyPoses, forwardDynamics, machineProblems, numbersOf } from '../machine'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { mechanismToUrdf, parseUrdf, robotMachine } from './index'

const roundTrip = (machine: Part) =>
  robotMachine(expectDone(parseUrdf(expectDone(mechanismToUrdf(machine, 'round trip')).text)), 'fixed').machine

describe('a mechanism as URDF', () => {
  it.each(['boat-shed-arm', 'lens-turret', 'derrick'])('and back moves in the same way: %s', (name) => {
    const machine = Object.values(demo(name).machines)[0]!
    const back = roundTrip(machine)
    expect(machineProblems('m', back)).toEqual([])
    const [one, other] = [machine, back].map((each) => assemble(each, numbersOf(each)))
    expect(other!.positions.map((position) => position.name)).toEqual(one!.positions.map((position) => position.name))
    const q = one!.speeds.map((_, i) => 0.3 * Math.sin(i + 1))
    const speeds = one!.speeds.map((_, i) => 0.4 * Math.cos(i))
    const efforts = one!.speeds.map((_, i) => i - 2)
    const rates = [one!, other!].map(({ tree }) => forwardDynamics(tree, { q, speeds }, efforts) as number[])
    expect(rates[1]).toBeNear(rates[0]!, { relative: 1e-10 })
    const tips = [one!, other!].map(({ tree }) => bodyPoses(tree, q).at(-1)!.position as readonly number[])
    expect(tips[1]).toBeNear(tips[0]!, { relative: 1e-12, absolute: 1e-12 })
  })

  it('reads an inertia as it is written, and turned with its own frame', () => {
    const inertiaOf = (rpy: string) => {
      const text = `<robot name="r"><link name="block"><inertial><origin xyz="0 0 0" rpy="${rpy}"/><mass value="2"/><inertia ixx="3" iyy="4" izz="5" ixy="0.1" ixz="0.2" iyz="0.3"/></inertial></link></robot>`
      return Object.values(partsIn(robotMachine(expectDone(parseUrdf(text)), 'free').machine.bodies))[0]!.inertia
    }
    expect(inertiaOf('0 0 0')).toBeNear([3, 4, 5, 0.1, 0.2, 0.3], { absolute: 1e-12 })
    // a quarter turn about z: x becomes y, y becomes -x
    expect(inertiaOf(`0 0 ${Math.PI / 2}`)).toBeNear([4, 3, 5, -0.1, -0.3, 0.2], { absolute: 1e-12 })
  })

  it('keeps limits, losses, drives, mimics and shapes', () => {
    const z = { axis: [0, 0, 1] }
    const turn = (on: string, kind = 'turning') =>
      bodyPart(1, [0.1, 0, 0], [0.01, 0.02, 0.02], jointPart(kind, on, [0.2, 0, 0], z))
    const machine = mechanismPart(
      {
        base: turn('ground'),
        arm: {
          ...turn('base'),
          shapes: { rod: { kind: 'cylinder', at: [0.1, 0, 0], turned: [0, 1.2, 0], radius: 0.03, length: 0.2 } },
        },
        slide: turn('arm', 'sliding'),
      },
      {
        forces: {
          stops: { kind: 'jointStops', joint: 'arm.angle', least: -1, most: 2, stiffness: 10, damping: 1 },
          loss: {
            kind: 'jointFriction',
            joint: 'slide.travel',
            sliding: 3,
            breakaway: 4,
            viscous: 0.5,
            stribeck: 0.1,
            smooth: 0.01,
          },
        },
        drives: { push: { kind: 'effortDrive', joint: 'arm.angle', most: 12 } },
        chains: { follow: { kind: 'coupled', joint: 'slide.travel', source: 'arm.angle', ratio: 0.1, offset: 0.02 } },
      },
    )
    const robot = expectDone(parseUrdf(expectDone(mechanismToUrdf(machine, 'arm & "more"')).text))
    expect(robot.name).toBe('arm more')
    const joint = (name: string) => robot.joints.find((one) => one.name === name)!
    expect(joint('baseJoint').type).toBe('continuous')
    expect(joint('armJoint')).toMatchObject({ type: 'revolute', limit: { lower: -1, upper: 2, effort: 12 } })
    expect(joint('slideJoint')).toMatchObject({
      type: 'prismatic',
      damping: 0.5,
      friction: 3,
      mimic: { joint: 'armJoint', multiplier: 0.1, offset: 0.02 },
    })
    // and back again as parts of a machine; of the joint that follows another no drive, whatever it could give
    const { drives, forces, chains } = robotMachine(
      {
        ...robot,
        joints: robot.joints.map((one) =>
          one.name === 'slideJoint' ? { ...one, limit: { lower: -1, upper: 1, effort: 5, velocity: 1 } } : one,
        ),
      },
      'fixed',
    ).machine as unknown as Record<'drives' | 'forces' | 'chains', Record<string, Part>>
    expect(drives).toEqual({ armJoint: { kind: 'effortDrive', joint: 'arm.angle', most: 12 } })
    expect(forces.armJointStops).toMatchObject({ joint: 'arm.angle', least: -1, most: 2 })
    expect(forces.slideJointFriction).toMatchObject({ joint: 'slide.travel', sliding: 3, viscous: 0.5 })
    expect(chains.slideJoint).toMatchObject({ joint: 'slide.travel', source: 'arm.angle', ratio: 0.1, offset: 0.02 })
    expect(robot.links.find(({ name }) => name === 'arm')!.visuals[0]!.shape).toMatchObject({
      kind: 'cylinder',
      radius: 0.03,
      turned: [0, 1.2, 0],
    })
  })

  it('splits joints that the standard has not, and names what it has no place for', () => {
    const cross = bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], {
      kind: 'twoAxis',
      on: 'ground',
      at: [0, 0, 1],
      turned: [0, 0, 0],
      first: [1, 0, 0],
      second: [0, 1, 0],
    })
    const machine = mechanismPart(
      { cross },
      {
        surroundings: { wind: { kind: 'steadyWind', velocity: [1, 0, 0] } },
        forces: { drag: { kind: 'airDrag', body: 'cross', at: [0, 0, 0], linear: 1, quadratic: 0 } },
      },
    )
    const { left } = expectDone(mechanismToUrdf(machine, 'cross'))
    expect(left).toEqual(['forces: drag', 'surroundings'])
    const back = roundTrip(machine)
    const bodies = Object.values(partsIn(back.bodies)).map(({ joint }) => (joint as Part).kind)
    expect(bodies).toEqual(['fixed', 'turning', 'turning'])
  })

  it('refuses a ball joint with a remedy', () => {
    const ball = bodyPart(1, [0, 0, -1], [0.1, 0.1, 0.1], { kind: 'ball', on: 'ground', at: [0, 0, 1], turned: [0, 0, 0] })
    expect(mechanismToUrdf(mechanismPart({ ball }), 'ball')).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'bodies.ball.joint', remedy: expect.stringMatching(/three turning joints/) as string }],
    })
  })
})
