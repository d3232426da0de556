import { add, cos, mul, sin } from '../expression'
import { applied, composed, minus, plus, rowsPlus, rowsTimes, scaled, transposedRows, turnedBy, unrotated } from '../algebra'
import type { Placement, Rows, Vector } from '../algebra'
import type { Part } from '../document'
import { pointInertia } from './pointInertia'
import { meshProperties, scaledMesh } from './mesh'
import type { Mesh } from './mesh'
import type { SolidProperties } from './solidProperties'

/** Gives the mesh of a content hash, where it is at hand. */
export type FindMesh = (hash: string) => Mesh | undefined

/**
 * A solid of uniform density (kg/m³) in its own axes. Nothing for meshes that are not at hand. Inertias about the centre as
 * in any handbook of mechanics (common practice; checked against computed reference cases).
 */
export function shapeProperties(shape: Part, density: number, findMesh?: FindMesh): SolidProperties | undefined {
  const solid = (volume: number, xx: number, yy: number, zz: number): SolidProperties => {
    const mass = density * volume
    return { mass, centre: [0, 0, 0], inertia: [mass * xx, mass * yy, mass * zz, 0, 0, 0] }
  }
  const [r, h] = [shape.radius as number, shape.length as number]
  switch (shape.kind) {
    case 'box': {
      const [x, y, z] = shape.size as readonly [number, number, number]
      return solid(x * y * z, (y * y + z * z) / 12, (x * x + z * z) / 12, (x * x + y * y) / 12)
    }
    case 'cylinder': {
      const across = (3 * r * r + h * h) / 12
      return solid(Math.PI * r * r * h, across, across, (r * r) / 2)
    }
    case 'sphere':
      return solid((4 / 3) * Math.PI * r ** 3, 0.4 * r * r, 0.4 * r * r, 0.4 * r * r)
    case 'mesh': {
      const mesh = findMesh?.((shape.mesh as string | undefined) ?? '')
      return mesh && meshProperties(scaledMesh(mesh, shape.scale as readonly [number, number, number]), density)
    }
    default:
      return undefined
  }
}

/** All shapes of a body as one solid of one density, in the body's axes; nothing where none encloses a volume. */
export function shapesProperties(shapes: readonly Part[], density: number, findMesh?: FindMesh): SolidProperties | undefined {
  const placed = shapes.flatMap((shape) => {
    const own = shapeProperties(shape, density, findMesh)
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

function placementOf(shape: Part): Placement {
  const turned = shape.turned as readonly number[]
  const rotation = turnedBy(turned.map((angle) => cos(angle)) as never, turned.map((angle) => sin(angle)) as never)
  return composed({ rotation: unrotated, position: shape.at as unknown as Vector }, { rotation, position: [0, 0, 0] })
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
