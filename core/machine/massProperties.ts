import { add, mul, neg, sub } from '../expression'
import type { Scalar } from '../expression'
import { dividedBy, dot, minus, plus, rowsPlus, scaled } from '../algebra'
import type { Rows, Vector } from '../algebra'
import type { Part } from '../document'
import { partNames } from './read'
import type { Read } from './read'

export interface MassProperties {
  /** kg, with the load carried */
  readonly mass: Scalar
  /** m, in the axes of the machine */
  readonly centre: Vector
  /** kg·m² about the centre of mass */
  readonly inertia: Rows
}

/** The parts of a machine as one rigid body, by the parallel-axis theorem. The load is a point at the centre. */
export function massProperties(machine: Part, read: Read): MassProperties {
  const parts = partNames(machine, 'bodies').map((name) => bodyProperties(name, read))
  const empty = parts.reduce<Scalar>((total, { mass }) => add(total, mass), 0)
  const moment = parts.reduce<Vector>((total, { mass, centre }) => plus(total, scaled(centre, mass)), [0, 0, 0])
  const centre = dividedBy(moment, empty)
  const inertias = parts.map((part) => rowsPlus(part.inertia, pointInertia(part.mass, minus(part.centre, centre))))
  return { mass: mul(empty, add(1, read('load'))), centre, inertia: inertias.reduce(rowsPlus) }
}

export function bodyProperties(name: string, read: Read): MassProperties {
  const [xx, yy, zz, xy, xz, yz] = [0, 1, 2, 3, 4, 5].map((i) => read(`bodies.${name}.inertia.${i}`)) as Scalars6
  return {
    mass: read(`bodies.${name}.mass`),
    centre: [0, 1, 2].map((i) => read(`bodies.${name}.at.${i}`)) as unknown as Vector,
    inertia: [
      [xx, xy, xz],
      [xy, yy, yz],
      [xz, yz, zz],
    ],
  }
}

type Scalars6 = [Scalar, Scalar, Scalar, Scalar, Scalar, Scalar]

/** Inertia of a point mass at d about the origin: m (d² 1 - d dᵀ). */
export function pointInertia(mass: Scalar, d: Vector): Rows {
  const square = dot(d, d)
  const entry = (i: 0 | 1 | 2, j: 0 | 1 | 2) => {
    const product = mul(d[i], d[j])
    return mul(mass, i === j ? sub(square, product) : neg(product))
  }
  return [
    [entry(0, 0), entry(0, 1), entry(0, 2)],
    [entry(1, 0), entry(1, 1), entry(1, 2)],
    [entry(2, 0), entry(2, 1), entry(2, 2)],
  ]
}
