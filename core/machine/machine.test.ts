import { describe, expect, it } from 'vitest'
import { replaceAt } from '../document'
import { multiply, rotation, transposedRows } from '../algebra'
import { lamplighter } from '../tests/demo'
import { reference } from '../tests/reference'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { machineProblems, totalMass } from './index'
import { pointInertia } from './pointInertia'

const machine = () => lamplighter().machines.lamplighter!

describe('mass properties', () => {
  it('move an inertia as the parallel-axis theorem says', () => {
    // Featherstone, Rigid Body Dynamics Algorithms (2008), section 2.13
    interface Transform {
      readonly inputs: {
        I_com_body: number[][]
        m: number
        R_body_to_world_is_Rz_of: number
        com_world: [number, number, number]
      }
      readonly expected: { I_about_world_origin_world_axes: number[][] }
    }
    const { inputs, expected } = reference<Transform['inputs'], Transform['expected']>('rbd-inertia-transform')
    const half = inputs.R_body_to_world_is_Rz_of / 2
    const r = rotation([Math.cos(half), 0, 0, Math.sin(half)])
    const turned = multiply(multiply(r as never, inputs.I_com_body), transposedRows(r) as never)
    const point = pointInertia(inputs.m, inputs.com_world) as unknown as number[][]
    expect(turned.map((row, i) => row.map((value, j) => value + point[i]![j]!))).toBeNear(
      expected.I_about_world_origin_world_axes,
      { relative: 1e-10 },
    )
  })
  it('add up to the whole', () => {
    expect(totalMass(machine())).toBeNear(3.4, { relative: 1e-12 })
  })
})

describe('problems', () => {
  const path = 'machines.lamplighter'
  const changed = (slot: string, value: unknown) => machineProblems(path, replaceAt(machine(), slot, value))
  it('are none for the demo', () => {
    expect(machineProblems(path, machine())).toEqual([])
  })
  it('name an inertia that cannot exist, and the remedy mends it', () => {
    const [problem] = changed('bodies.hull.inertia', [0.01, 0.01, 0.05, 0, 0, 0])
    expect(problem?.where).toBe('machines.lamplighter.bodies.hull.inertia')
    expect(problem?.what).toContain('exceeds the sum of the other two')
    expect(changed('bodies.hull.inertia', [0.01, 0.01, 0.02, 0, 0, 0])).toEqual([])
  })
  it('name a negative principal moment hidden in products', () => {
    expect(changed('bodies.hull.inertia', [0.01, 0.01, 0.015, 0.02, 0, 0])[0]?.what).toContain('principal moment')
  })
  it('name a mass of 1e-300', () => {
    expect(changed('bodies.hull.mass', 1e-300)[0]?.where).toBe('machines.lamplighter.bodies.hull.mass')
  })
  it.each([
    ['drives.rotor1.least', 2000, 'The least speed of 2000 is not below the most speed of 890.'],
    ['forces.ends', { kind: 'jointStops', joint: 'bar.angle', least: 1, most: 0.2, stiffness: 10, damping: 1 }, 'not below'],
  ])('name ends that cross: %s', (slot, value, what) => {
    const bar = bodyPart(
      1,
      [0.1, 0, 0],
      [0.01, 0.01, 0.01],
      jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 1, 0], start: 0 }),
    )
    const base = slot.startsWith('drives') ? machine() : mechanismPart({ bar })
    const [problem] = machineProblems(path, replaceAt(base, slot, value))
    expect(problem?.where).toBe(`${path}.${slot}${typeof value === 'number' ? '' : '.least'}`)
    expect(problem?.what).toContain(what)
  })
})
