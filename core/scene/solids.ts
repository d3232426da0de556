import type { Placement } from '../algebra'
import { partOf } from '../kinds'
import { box, capsule, cylinder, placementOf, sphere } from '../machine'
import type { Shape } from '../machine'
import type { Part } from '../document'
import type { Convex, Point } from './distance'

/** Half of a box, radius and half length of a cylinder, or half of a line along z that is swollen: a ball where that is 0; m. */
type Form =
  | { readonly half: Point }
  | { readonly radius: number; readonly half: number }
  | { readonly margin: number; readonly half: number }

export interface Solid {
  readonly form: Form
  /** Where it stands on what it belongs to. */
  readonly placed: Placement
}

/** A shape as a convex solid; nothing of a mesh, whose content a document does not hold. */
export function solidOf(shape: Shape): Solid | undefined {
  const form = formOf(shape)
  if (form === undefined) return undefined
  return { form, placed: placementOf(shape) }
}

function formOf(shape: Part): Form | undefined {
  if (shape.kind === box.name) {
    const [x, y, z] = partOf(box, shape).size
    return { half: [x / 2, y / 2, z / 2] }
  }
  if (shape.kind === cylinder.name) {
    const { radius, length } = partOf(cylinder, shape)
    return { radius, half: length / 2 }
  }
  if (shape.kind === capsule.name) {
    const { radius, length } = partOf(capsule, shape)
    return { margin: radius, half: length / 2 }
  }
  return shape.kind === sphere.name ? { margin: partOf(sphere, shape).radius, half: 0 } : undefined
}

/** m: of a ball that holds all of a solid. */
export function radiusOf({ form }: Solid): number {
  if ('margin' in form) return form.margin + form.half
  return Math.sqrt('radius' in form ? form.radius ** 2 + form.half ** 2 : form.half.reduce((sum, one) => sum + one * one, 0))
}

/** The middle of a solid in the world: `pose` is that of what it belongs to. */
export function middleOf({ placed }: Solid, pose: Placement): Point {
  const rows = pose.rotation as unknown as readonly Point[]
  const [x, y, z] = placed.position as unknown as Point
  const [px, py, pz] = pose.position as unknown as Point
  const along = ([a, b, c]: Point) => a * x + b * y + c * z
  return [px + along(rows[0]!), py + along(rows[1]!), pz + along(rows[2]!)]
}

/** A solid where it stands in the world: `pose` is that of what it belongs to. */
export function convexAt(solid: Solid, pose: Placement): Convex {
  const { form, placed } = solid
  const centre = middleOf(solid, pose)
  const radius = radiusOf(solid)
  const margin = 'margin' in form ? form.margin : 0
  if (form.half === 0) return { support: () => centre, margin, centre, radius }
  const [ours, own] = [pose.rotation, placed.rotation] as unknown as [readonly Point[], readonly Point[]]
  const rows = ours.map((row): Point => {
    const entry = (j: 0 | 1 | 2) => row[0] * own[0]![j] + row[1] * own[1]![j] + row[2] * own[2]![j]
    return [entry(0), entry(1), entry(2)]
  }) as [Point, Point, Point]
  const [[a, b, c], [d, e, f], [g, h, i]] = rows
  const farthest = (x: number, y: number, z: number): Point => {
    if (!('margin' in form) && !('radius' in form)) {
      const [hx, hy, hz] = form.half
      return [x < 0 ? -hx : hx, y < 0 ? -hy : hy, z < 0 ? -hz : hz]
    }
    if ('margin' in form) return [0, 0, z < 0 ? -form.half : form.half]
    const across = Math.sqrt(x * x + y * y)
    const out = across > 0 ? form.radius / across : 0
    return [x * out, y * out, z < 0 ? -form.half : form.half]
  }
  const support = ([x, y, z]: Point): Point => {
    const [u, v, w] = farthest(a * x + d * y + g * z, b * x + e * y + h * z, c * x + f * y + i * z)
    return [centre[0] + a * u + b * v + c * w, centre[1] + d * u + e * v + f * w, centre[2] + g * u + h * v + i * w]
  }
  return { support, margin, centre, radius }
}
