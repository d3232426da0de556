import { describe, expect, it } from 'vitest'
import { partsIn } from '../document'
import type { Part } from '../document'
import { demo } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { randomMechanism } from '../tests/randomMechanism'
import {
  assemble,
  bodiesOn,
  bodyPoses,
  machineProblems,
  numbersOf,
  rehungJoint,
  seatPose,
  turnsOf,
  withCopy,
  withRenamedBody,
} from './index'
import { turnedBy } from '../algebra'
import { bodiesOf } from './linkedBody'

const posesOf = (machine: Part, q?: readonly number[]) => {
  const assembly = assemble(machine, numbersOf(machine))
  const poses = bodyPoses(assembly.tree, q ?? assembly.start)
  return (name: string) => seatPose(assembly.seats.get(name)!, poses) as unknown as { position: number[]; rotation: number[][] }
}

describe('a body hung on another', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('stays where it is, seed %i', (seed) => {
    const { machine } = randomMechanism(seed, 5, ['turning', 'sliding', 'fixed'])
    const bodies = bodiesOf(machine)
    const on = seed % 2 === 0 ? 'ground' : 'body0'
    const next = {
      ...machine,
      bodies: { ...bodies, body4: { ...bodies.body4!, joint: rehungJoint(machine, 'body4', on) } },
    } as Part
    const [before, after] = [posesOf(machine)('body4'), posesOf(next)('body4')]
    expect(after.position).toBeNear(before.position, { absolute: 1e-9 })
    expect(after.rotation).toBeNear(before.rotation, { absolute: 1e-9 })
  })

  it.each([
    [0.3, -1.1, 2.9],
    [-3, 0.2, 0],
    [0.4, Math.PI / 2, 0.3],
    [0, -Math.PI / 2, 1],
  ])('turns %d %d %d are found from their rotation', (...turns) => {
    const rows = (values: readonly number[]) =>
      turnedBy(
        values.map((angle) => Math.cos(angle)) as never,
        values.map((angle) => Math.sin(angle)) as never,
      ) as unknown as number[][]
    expect(rows(turnsOf(rows(turns) as never))).toBeNear(rows(turns), { absolute: 1e-12 })
  })
})

describe('a copy', () => {
  it('takes along what hangs on the body and what acts on it', () => {
    const machine = demo('boat-shed-arm').machines.arm!
    const { machine: twice, name } = withCopy(machine, 'foreArm')
    expect(name).toBe('foreArm2')
    expect(bodiesOn(twice, 'foreArm2')).toEqual(['foreArm2', 'wrist2', 'brush2'])
    expect(Object.keys(partsIn(twice.drives))).toEqual(expect.arrayContaining(['elbowDrive2', 'rollDrive2', 'tipDrive2']))
    expect(twice).toHaveProperty('drives.elbowDrive2.joint', 'foreArm2.angle')
    expect(machineProblems('m', twice)).toEqual([])
  })
})

describe('a new name', () => {
  it('reaches joints, forces, motions and formulas, and leaves other words alone', () => {
    const machine = demo('boat-shed-arm').machines.arm!
    const forces = {
      ...(machine.forces as object),
      own: { kind: 'formulaEffort', joint: 'wrist.angle', effort: '-foreArm.rate * foreArmour - 2 * foreArm.angle' },
    }
    const renamed = withRenamedBody({ ...machine, forces } as Part, 'foreArm', 'lever')
    expect(renamed).toHaveProperty('bodies.wrist.joint.on', 'lever')
    expect(renamed).toHaveProperty('drives.elbowDrive.joint', 'lever.angle')
    expect(renamed).toHaveProperty('forces.own.effort', '-lever.rate * foreArmour - 2 * lever.angle')
    expect(renamed).toHaveProperty('motions.stroke.coordinates', expect.stringMatching(/ lever\.angle /) as string)
    expect(Object.keys(partsIn(renamed.bodies))).toEqual(
      Object.keys(bodiesOf(machine)).map((name) => (name === 'foreArm' ? 'lever' : name)),
    )
    expect(withRenamedBody(renamed, 'lever', 'foreArm')).toEqual({ ...machine, forces })
  })
})

describe('a mirrored copy', () => {
  const leg = () =>
    mechanismPart(
      {
        trunk: bodyPart(5, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('fixed', 'ground', [0.1, 0.2, 0.3])),
        leftHip: {
          ...bodyPart(1, [0.05, 0.1, 0.02], [0.01, 0.012, 0.02], {
            ...jointPart('turning', 'trunk', [0.3, 0.2, 0], { axis: [0.3, 0.5, 1], start: 0 }),
            turned: [0.2, -0.4, 0.7],
          }),
          inertia: [0.01, 0.012, 0.02, 0.001, -0.002, 0.0005],
        },
        leftShin: bodyPart(1, [0, 0.1, -0.1], [0.01, 0.02, 0.02], {
          ...jointPart('turning', 'leftHip', [0, 0.25, 0], { axis: [1, 0, 0.2] }),
          turned: [0.1, 0.3, -0.2],
        }),
        leftFoot: bodyPart(
          0.2,
          [0, 0, -0.02],
          [0.001, 0.001, 0.001],
          jointPart('sliding', 'leftShin', [0, 0, -0.3], { axis: [0, 0.2, -1] }),
        ),
      },
      {
        forces: {
          leftSole: {
            kind: 'groundContact',
            body: 'leftFoot',
            at: [0.01, 0.03, -0.02],
            radius: 0.02,
            level: 0,
            stiffness: 1,
            damping: 0,
            friction: 0,
            smooth: 0.1,
          },
        },
      },
    )

  it.each(['x', 'y', 'z'] as const)('across %s stands mirrored at equal angles', (plane) => {
    const { machine, name } = withCopy(leg(), 'leftHip', plane)
    expect(name).toBe('rightHip')
    expect(Object.keys(bodiesOf(machine))).toEqual([
      'trunk',
      'leftHip',
      'leftShin',
      'leftFoot',
      'rightHip',
      'rightShin',
      'rightFoot',
    ])
    const at: Record<string, number> = { Hip: 0.4, Shin: -0.7, Foot: 0.05 }
    const { positions } = assemble(machine, numbersOf(machine))
    const pose = posesOf(
      machine,
      positions.map(({ name: position }) => at[/(Hip|Shin|Foot)/.exec(position)![1]!]!),
    )
    const k = { x: 0, y: 1, z: 2 }[plane]
    const trunk = [0.1, 0.2, 0.3]
    for (const part of ['Hip', 'Shin', 'Foot']) {
      const { position: one, rotation: r } = pose(`left${part}`)
      const { position: other, rotation: s } = pose(`right${part}`)
      const image = one.map((value, i) => (i === k ? 2 * trunk[i]! - value : value))
      expect(other).toBeNear(image, { absolute: 1e-12 })
      const flip = (i: number) => (i === k ? -1 : 1)
      expect(s).toBeNear(
        r.map((row, i) => row.map((value, j) => flip(i) * value * flip(j))),
        { absolute: 1e-12 },
      )
    }
    // the inertia is that of the mirror image: S I S
    const inertia = (body: string) => bodiesOf(machine)[body]!.inertia
    const signs = { x: [1, 1, 1, -1, -1, 1], y: [1, 1, 1, -1, 1, -1], z: [1, 1, 1, 1, -1, -1] }[plane]
    expect(inertia('rightHip')).toEqual(inertia('leftHip').map((value, i) => signs[i]! * value))
    expect(partsIn(machine.forces).rightSole!.body).toBe('rightFoot')
    expect(machineProblems('m', machine)).toEqual([])
  })

  it('keeps formulas, with their sign', () => {
    const machine = leg() as unknown as { bodies: Record<string, { centre: unknown[] }> }
    machine.bodies.leftHip!.centre[1] = '= reach / 2'
    const { machine: twice } = withCopy(machine as unknown as Part, 'leftHip', 'y')
    expect(twice).toHaveProperty('bodies.rightHip.centre.1', '= -(reach / 2)')
  })
})
