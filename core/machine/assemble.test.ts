import { describe, expect, it } from 'vitest'
import { Graph, isNode } from '../expression'
import type { Scalar } from '../expression'
import { demo } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import {
  assemble,
  bodyPoses,
  coordinateNames,
  massAndCentre,
  massMatrix,
  numbersOf,
  outwardOrder,
  placement,
  seatPose,
} from './index'
import { bodiesOf } from './linkedBody'

const z = { axis: [0, 0, 1] }
const machine = mechanismPart({
  tip: bodyPart(1, [0.1, 0, 0], [0.01, 0.01, 0.01], jointPart('fixed', 'arm', [0.5, 0, 0])),
  arm: bodyPart(2, [0.25, 0, 0], [0.1, 0.1, 0.1], jointPart('turning', 'post', [0, 0, 1], z)),
  post: bodyPart(9, [0, 0, 0.5], [1, 1, 1], jointPart('fixed', 'ground', [3, 0, 0])),
})

describe('a mechanism as a tree', () => {
  const assembly = assemble(machine, numbersOf(machine))

  it('orders bodies outward, whatever the order of the document', () => {
    expect(outwardOrder(bodiesOf(machine))).toEqual(['post', 'arm', 'tip'])
  })

  it('joins bodies without freedom to what they hang on', () => {
    expect(assembly.tree.bodies.map(({ name }) => name)).toEqual(['arm'])
    expect(assembly.seats.get('post')!.body).toBe(-1)
    expect(assembly.seats.get('tip')!.body).toBe(0)
    expect(assembly.tree.bodies[0]!.inertia.mass).toBe(3)
    // arm about its end, and the tip 0.6 m out: parallel axes
    const [[inertia]] = massMatrix(assembly.tree, { q: [0] }) as [[number]]
    expect(inertia).toBeNear(0.1 + 2 * 0.25 ** 2 + 0.01 + 1 * 0.6 ** 2, { relative: 1e-14 })
  })

  it('still knows where each of them is', () => {
    const poses = bodyPoses(assembly.tree, [Math.PI / 2])
    expect(seatPose(assembly.seats.get('tip')!, poses).position).toBeNear([3, 0.5, 1], { absolute: 1e-14 })
    expect(seatPose(assembly.seats.get('post')!, poses).position).toEqual([3, 0, 0])
    const { mass, centre } = massAndCentre(assembly.tree, poses)
    expect(mass).toBe(12) // what stands on ground weighs as well
    expect(centre).toBeNear([3, (2 * 0.25 + 0.6) / 12, (9 * 0.5 + 3) / 12], { absolute: 1e-14 })
  })

  it('names positions and speeds by their body', () => {
    expect(assembly.positions.map(({ name }) => name)).toEqual(['arm.angle'])
    expect(assembly.speeds.map(({ name }) => name)).toEqual(['arm.rate'])
    expect(assembly.pairs).toEqual([0])
  })
})

it('what lies in a plane stays in it, whichever way its normal points', () => {
  for (const normal of [
    [0, 0, 1],
    [1, 0, 0],
    [0.95, 0.3, 0.1],
    [0.8, 0.5, -0.3],
    [0, -2, 1],
  ]) {
    const joint = jointPart('planar', 'ground', [0, 0, 0], { axis: normal })
    const { tree } = assemble(mechanismPart({ puck: bodyPart(1, [0, 0, 0], [1, 1, 1], joint) }), () => 0)
    const [{ position, rotation }] = bodyPoses(tree, [1, 2, 0.3]) as unknown as [{ position: number[]; rotation: number[][] }]
    const along = (v: readonly number[]) => v.reduce((sum, value, k) => sum + value * normal[k]!, 0) / Math.hypot(...normal)
    expect(along(position)).toBeNear(0, { absolute: 1e-14 })
    expect(Math.hypot(...position)).toBeNear(Math.sqrt(5), { relative: 1e-14 })
    expect(rotation.map(along)).toBeNear(
      normal.map((part) => part / Math.hypot(...normal)),
      { absolute: 1e-14 },
    )
  }
})

describe('structure', () => {
  it('is what is 0 or a direction: it folds away, other numbers stay', () => {
    const graph = new Graph()
    const asked: string[] = []
    const read = (path: string): Scalar => {
      asked.push(path)
      return graph.slot(asked.length)
    }
    const { tree } = assemble(machine, read)
    expect(asked).toContain('bodies.arm.mass')
    expect(asked).toContain('bodies.arm.centre.0')
    expect(asked).not.toContain('bodies.arm.centre.1')
    expect(asked.some((path) => path.includes('axis'))).toBe(false)
    expect(isNode(tree.bodies[0]!.inertia.mass)).toBe(true)
  })

  it('takes quarter turns as exact, so that they fold away too', () => {
    const turned = placement({ at: [0, 0, 0], turned: [Math.PI / 2, 0, -Math.PI / 2] }, 'x', () => 0)
    expect(turned.rotation.flat().every((value) => value === 0 || value === 1 || value === -1)).toBe(true)
  })

  it('takes axes of any length', () => {
    const long = mechanismPart({
      arm: bodyPart(1, [1, 0, 0], [0.1, 0.1, 0.1], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 7] })),
    })
    const { tree } = assemble(long, numbersOf(long))
    expect((massMatrix(tree, { q: [0.3] }) as number[][])[0]![0]).toBeNear(1.1, { relative: 1e-14 })
  })
})

describe('coordinates', () => {
  it('are those that an effort can act on', () => {
    expect(coordinateNames(demo('rock-walker').machines.walker!)).not.toContain('front.x')
    expect(coordinateNames(demo('derrick').machines.derrick!)).toEqual([
      'column.angle',
      'boom.angle',
      'sheave.angle',
      'rope.angle',
      'load.travel',
    ])
  })
})
