import { describe, expect, it } from 'vitest'
import { multiply, principalAxes, transpose } from '../algebra'
import type { Part } from '../document'
import { demo } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { numbersFrom } from '../tests/randomGraph'
import { assemble, bodyPoses, hull, inertiaEllipsoid, numbersOf, supportPolygon } from './index'

describe('principal axes', () => {
  it.each([1, 2, 3, 4, 5, 6, 7, 8])('diagonalize any symmetric matrix by a rotation, seed %i', (seed) => {
    const next = numbersFrom(seed)
    const [a, b, c, d, e, f] = Array.from({ length: 6 }, () => 4 * next() - 2) as [number, number, number, number, number, number]
    const matrix = [
      [a, d, e],
      [d, b, f],
      [e, f, c],
    ]
    const { values, vectors } = principalAxes(matrix)
    const v = vectors.map((row) => [...row])
    const diagonal = values.map((value, i) => values.map((_, j) => (i === j ? value : 0)))
    expect(multiply(multiply(v, diagonal), transpose(v))).toBeNear(matrix, { relative: 1e-12 })
    expect(multiply(transpose(v), v)).toBeNear(
      [
        [1, 0, 0],
        [0, 1, 0],
        [0, 0, 1],
      ],
      { absolute: 1e-12 },
    )
    const [[p, q, r], [s, t, u], [w, x, y]] = v as [number[], number[], number[]] as [
      [number, number, number],
      [number, number, number],
      [number, number, number],
    ]
    expect(p * (t * y - u * x) - q * (s * y - u * w) + r * (s * x - t * w)).toBeNear(1, { relative: 1e-12 })
  })
})

describe('the ellipsoid of an inertia', () => {
  it('is the ellipsoid itself for a solid one', () => {
    // m/5 (b² + c²): Goldstein, Classical Mechanics (from memory)
    const [m, a, b, c] = [3, 0.5, 0.3, 0.2]
    const moment = (x: number, y: number) => (m / 5) * (x * x + y * y)
    const { halfAxes } = inertiaEllipsoid(m, [moment(b, c), moment(a, c), moment(a, b), 0, 0, 0])!
    expect(halfAxes).toBeNear([a, b, c], { relative: 1e-12 })
  })

  it('is nothing for a point or no mass', () => {
    expect(inertiaEllipsoid(1, [0, 0, 0, 0, 0, 0])).toBeUndefined()
    expect(inertiaEllipsoid(0, [1, 1, 1, 0, 0, 0])).toBeUndefined()
  })
})

describe('the support polygon', () => {
  it('of the walker where it stands has a corner a foot and holds its centre', () => {
    const machine = demo('rock-walker').machines.walker!
    const assembly = assemble(machine, numbersOf(machine))
    const corners = supportPolygon(machine, assembly, bodyPoses(assembly.tree, assembly.start))
    expect(corners.length).toBeGreaterThanOrEqual(4)
    const lifted = assembly.start.map((value, i) => (assembly.positions[i]!.name === 'front.z' ? value + 0.5 : value))
    expect(supportPolygon(machine, assembly, bodyPoses(assembly.tree, lifted)).length).toBeLessThan(3)
  })

  it('knows how high the ground under a foot lies', () => {
    // feet of 5 cm on ground at 0.3 m: the body stands with them there, and with none on ground at 0
    const stood = (level: number) => {
      const foot = (x: number, y: number): Part => ({ kind: 'groundContact', body: 'table', at: [x, y, 0], radius: 0.05, level, stiffness: 1e4, damping: 100, friction: 0.5, smooth: 0.01 }) // prettier-ignore
      const table = bodyPart(5, [0, 0, 0.2], [1, 1, 1], jointPart('fixed', 'ground', [0, 0, 0.35]))
      const machine = mechanismPart({ table }, { forces: { a: foot(0, 0), b: foot(1, 0), c: foot(0, 1) } })
      const assembly = assemble(machine, numbersOf(machine))
      return supportPolygon(machine, assembly, bodyPoses(assembly.tree, assembly.start)).length
    }
    expect([stood(0.3), stood(0)]).toEqual([3, 0])
  })

  it('leaves out feet inside the others', () => {
    expect(
      hull([
        [0, 0],
        [2, 0],
        [2, 2],
        [0, 2],
        [1, 1],
        [1, 0],
      ]),
    ).toEqual([
      [0, 0],
      [2, 0],
      [2, 2],
      [0, 2],
    ])
  })
})
