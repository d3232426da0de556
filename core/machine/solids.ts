import { add, mul } from '../expression'
import { applied, minus, plus, rowsPlus, rowsTimes, scaled, transposedRows } from '../algebra'
import type { Placement, Rows, Vector } from '../algebra'
import type { Part } from '../document'
import { findKind, partOf } from '../kinds'
import { placement } from './assemble'
import { pointInertia } from './pointInertia'
import { shapes } from './shapes'
import type { FindMesh, Shape } from './shapes'
import type { SolidProperties } from './solidProperties'

/**
 * A solid of uniform density (kg/m³) in its own axes. Nothing for meshes that are not at hand. Inertias about the centre as
 * in any handbook of mechanics (common practice; checked against computed reference cases).
 */
export function shapeProperties(shape: Part, density: number, findMesh?: FindMesh): SolidProperties | undefined {
  const kind = findKind(shapes, shape)
  return kind?.solid(partOf(kind, shape), density, findMesh)
}

/** All shapes of a body as one solid of one density, in the body's axes; nothing where none encloses a volume. */
export function shapesProperties(given: readonly Part[], density: number, findMesh?: FindMesh): SolidProperties | undefined {
  const placed = given.flatMap((one) => {
    const kind = findKind(shapes, one)
    if (kind === undefined) return []
    const shape = partOf(kind, one)
    const own = kind.solid(shape, density, findMesh)
    return own === undefined ? [] : [placedProperties(own, placementOf(shape))]
  })
  return placed.length === 0 ? undefined : composedProperties(placed)
}

/** Several solids as one, by the parallel-axis theorem (Steiner). */
export function composedProperties(parts: readonly SolidProperties[]): SolidProperties {
  const mass = parts.reduce((sum, part) => sum + part.mass, 0)
  const moment = parts.reduce<Vector>((sum, part) => plus(sum, scaled(part.centre, part.mass)), [0, 0, 0])
  const centre = scaled(moment, 1 / mass)
  const inertia = parts
    .map((part) => rowsPlus(rowsOf(part.inertia), pointInertia(part.mass, minus(part.centre, centre))))
    .reduce(rowsPlus)
  return { mass, centre: centre as SolidProperties['centre'], inertia: sixOf(inertia) }
}

function placedProperties({ mass, centre, inertia }: SolidProperties, place: Placement): SolidProperties {
  const turned = rowsTimes(rowsTimes(place.rotation, rowsOf(inertia)), transposedRows(place.rotation))
  const moved = plus(place.position, applied(place.rotation, centre))
  return { mass, centre: moved as SolidProperties['centre'], inertia: sixOf(turned) }
}

/** Where a shape stands on what it belongs to, by the numbers themselves: nobody varies a shape. */
export function placementOf(shape: Shape): Placement {
  const number = (path: string) => {
    const [slot, at] = path.split('.').slice(-2) as ['at' | 'turned', string]
    return shape[slot][Number(at)]!
  }
  return placement(shape, 'shape', number)
}

function rowsOf([xx, yy, zz, xy, xz, yz]: SolidProperties['inertia']): Rows {
  return [
    [xx, xy, xz],
    [xy, yy, yz],
    [xz, yz, zz],
  ]
}

function sixOf(rows: Rows): SolidProperties['inertia'] {
  const mean = (i: 0 | 1 | 2, j: 0 | 1 | 2) => mul(0.5, add(rows[i][j], rows[j][i])) as number
  return [rows[0][0] as number, rows[1][1] as number, rows[2][2] as number, mean(0, 1), mean(0, 2), mean(1, 2)]
}
