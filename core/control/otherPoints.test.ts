import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { fullMechanism } from '../machine'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { designPoint, otherPoints } from './index'

const level = { axis: [0, -1, 0] }
const found = (machine: Parameters<typeof designPoint>[0]) =>
  otherPoints(machine, fullMechanism, expectDone(designPoint(machine)))

describe('other points of rest', () => {
  it('of a pendulum is the one upside down (fact of the trade, common practice, no source)', () => {
    const bob = bodyPart(2, [0, 0, -0.8], [0.01, 0.01, 0.01], jointPart('turning', 'ground', [0, 0, 1], level))
    const [up, ...more] = found(mechanismPart({ bob }))
    expect(more).toEqual([])
    expect(up!.differs).toHaveLength(1)
    expect(Math.abs(up!.differs[0]!.value)).toBeNear(Math.PI, { relative: 1e-9 })
  })

  it('of two pendulums are three more: up and down, down and up, up and up', () => {
    const link = (on: string, z: number) =>
      bodyPart(1, [0, 0, -0.5], [0.01, 0.01, 0.01], jointPart('turning', on, [0, 0, z], level))
    const others = found(mechanismPart({ upper: link('ground', 2), lower: link('upper', -1) }))
    expect(others.length).toBeGreaterThanOrEqual(2)
    for (const { differs } of others)
      for (const { value } of differs) expect(Math.abs(value)).toBeNear(Math.PI, { relative: 1e-6 })
  })

  it('are none where everything is held, or nothing else balances', () => {
    expect(found(demo('boat-shed-arm').machines.arm!)).toEqual([])
    const cart = bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 1], { axis: [1, 0, 0] }))
    const far = bodyPart(
      2,
      [0, 0, 0],
      [0.1, 0.1, 0.1],
      jointPart('sliding', 'ground', [0, 0, 1], { axis: [1, 0, 0], start: 1.7 }),
    )
    for (const bodies of [{ cart }, { far }] as Record<string, Part>[]) expect(found(mechanismPart(bodies))).toEqual([])
    const spring = { kind: 'jointSpring', joint: 'cart.travel', stiffness: 10, damping: 0, rest: 0.1 }
    expect(found(mechanismPart({ cart }, { forces: { spring } }))).toEqual([])
  })

  it('leave what is held where it is, closed chains and all, and leave out parts that rest anywhere', () => {
    const machine = demo('boarding-ramp').machines.ramp!
    const point = expectDone(designPoint(machine))
    const others = otherPoints(machine, fullMechanism, point)
    const names = others.flatMap(({ differs }) => differs.map(({ name }) => name))
    for (const name of [...point.held, 'foot.angle']) expect(names).not.toContain(name)
    // a parallel linkage with its leaf held closes in two ways: parallel and crossed
    expect(others.length).toBeLessThanOrEqual(1)
  })
})
