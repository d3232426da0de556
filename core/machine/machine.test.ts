import { describe, expect, it } from 'vitest'
import { replaceAt } from '../document'
import { multiply, rotation, transposedRows } from '../algebra'
import { lamplighter } from '../tests/demo'
import { reference } from '../tests/reference'
import {
  allocate,
  designRealism,
  fullRealism,
  machineFacts,
  machineProblems,
  massProperties,
  motion,
  numbersOf,
  stateList,
} from './index'
import { pointInertia } from './massProperties'

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
    const { mass, centre } = massProperties(machine(), numbersOf(machine()))
    expect(mass).toBeNear(3.4, { relative: 1e-12 })
    expect(centre[1]).toBe(0)
  })
})

describe('facts', () => {
  it('are those of hover', () => {
    // by hand: weight = m g, thrust = k speed²
    const facts = machineFacts(machine())
    expect(facts.weight).toBeNear(3.4 * 9.80665, { relative: 1e-12 })
    const { inertia } = massProperties(machine(), numbersOf(machine()))
    expect(facts.inertia).toEqual([0, 1, 2].map((k) => inertia[k]![k]))
    expect(facts.hoverThrust).toBeNear((3.4 * 9.80665) / 6, { relative: 1e-12 })
    expect(1.2e-5 * facts.hoverSpeed ** 2).toBeNear(facts.hoverThrust, { relative: 1e-12 })
    expect(facts.thrustToWeight).toBeNear((6 * 1.2e-5 * 890 ** 2) / (3.4 * 9.80665), { relative: 1e-12 })
  })
})

describe('allocation', () => {
  it('gives just the pushes that are asked', () => {
    const one = machine()
    const read = numbersOf(one)
    const asked = [30, 0.4, -0.3, 0.05]
    const speeds = allocate(one, read, asked)
    const still = stateList(one, designRealism).map(({ atRest }, i) => (i >= 13 ? (speeds[i - 13] as number) : atRest))
    const moved = motion(one, read, designRealism, still, speeds)
    const { mass, inertia } = massProperties(one, read)
    const rate = moved.rates.slice(10, 13) as number[]
    const moment = inertia.map((row) => row.reduce<number>((sum, value, i) => sum + (value as number) * rate[i]!, 0))
    expect([((moved.rates[9] as number) + 9.80665) * (mass as number), ...moment]).toBeNear(asked, { absolute: 1e-10 })
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
  it('name a lifter too heavy to hover, and the mass that it could lift', () => {
    const [problem] = changed('bodies.crate.mass', 4)
    expect(problem?.what).toContain('cannot hover')
    const able = Number(/below ([\d.]+) kg/.exec(problem!.remedy)![1])
    expect(changed('bodies.crate.mass', 0.28 + able - 3.4 - 0.01)).toEqual([])
  })
  it('name crossed speed limits', () => {
    expect(changed('rotors.leastSpeed', 2000)[0]?.where).toBe('machines.lamplighter.rotors.leastSpeed')
  })
})

describe('realism layers', () => {
  it('leave the lag out of the states when it is off', () => {
    const without = new Set([...fullRealism].filter((layer) => layer !== 'rotorLag'))
    expect(stateList(machine(), fullRealism)).toHaveLength(19)
    expect(stateList(machine(), without)).toHaveLength(13)
  })
})
