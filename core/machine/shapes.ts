import { name, number, vector } from '../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../kinds'
import type { Vector } from '../algebra'
import { meshProperties, scaledMesh } from './mesh'
import type { Mesh } from './mesh'
import { blockSurface, capsuleSurface, drumSurface } from './solidSurface'
import type { Surface } from './solidSurface'
import type { SolidProperties } from './solidProperties'

export interface ShapeKind<S extends Slots = Slots> extends Kind<S & typeof placed> {
  readonly label: string
  /**
   * A solid of uniform density (kg/m³) in its own axes; nothing for a mesh that is not at hand. As in any handbook of mechanics
   * (common practice; checked against computed reference cases).
   */
  readonly solid: OfOwn<
    [shape: PartOf<Kind<S & typeof placed>>, density: number, findMesh?: FindMesh],
    SolidProperties | undefined
  >
  /** Its surface as a point in its own axes sees it, exactly; nothing for a mesh, which has to be looked through. */
  readonly surface?: OfOwn<[shape: PartOf<Kind<S & typeof placed>>, point: Vector], Surface>
}

/** Gives the mesh of a content hash, where it is at hand. */
export type FindMesh = (hash: string) => Mesh | undefined

function uniform(mass: number, xx: number, yy: number, zz: number): SolidProperties {
  return { mass, centre: [0, 0, 0], inertia: [mass * xx, mass * yy, mass * zz, 0, 0, 0] }
}

function defineShape<const S extends Slots>(kind: ShapeKind<S>): ShapeKind<S> {
  return kind
}

/** Where a shape's own frame lies on its body. */
const placed = {
  at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
  turned: vector({ label: 'turned', unit: 'rad', components: ['x', 'y', 'z'], note: 'about fixed x, then y, then z' }),
} as const
const length = (label: string) => number({ label, unit: 'm', above: 0 })

export const box = defineShape({
  name: 'box',
  label: 'box',
  says: 'a box',
  about: 'Centred at its place.',
  slots: { ...placed, size: vector({ label: 'size', unit: 'm', components: ['x', 'y', 'z'] }) },
  solid: ({ size: [x, y, z] }, density) =>
    uniform(density * (x * y * z), (y * y + z * z) / 12, (x * x + z * z) / 12, (x * x + y * y) / 12),
  surface: ({ size: [x, y, z] }, point) => blockSurface(point, [x / 2, y / 2, z / 2]),
})

export const cylinder = defineShape({
  name: 'cylinder',
  label: 'cylinder',
  says: 'a cylinder of radius {radius}, {length} long',
  about: 'Its axis is z, its middle at its place.',
  slots: { ...placed, radius: length('radius'), length: length('length') },
  solid: ({ radius: r, length: h }, density) => {
    const across = (3 * r * r + h * h) / 12
    return uniform(density * (Math.PI * r * r * h), across, across, (r * r) / 2)
  },
  surface: ({ radius, length: h }, point) => drumSurface(point, radius, h / 2),
})

export const sphere = defineShape({
  name: 'sphere',
  label: 'sphere',
  says: 'a sphere of radius {radius}',
  about: 'Centred at its place.',
  slots: { ...placed, radius: length('radius') },
  solid: ({ radius: r }, density) => uniform(density * ((4 / 3) * Math.PI * r ** 3), 0.4 * r * r, 0.4 * r * r, 0.4 * r * r),
  surface: ({ radius }, point) => capsuleSurface(point, radius, 0),
})

export const capsule = defineShape({
  name: 'capsule',
  label: 'capsule',
  says: 'a capsule of radius {radius}, {length} long between its round ends',
  about: 'A cylinder along z with half a sphere on either end, its middle at its place.',
  slots: { ...placed, radius: length('radius'), length: length('length') },
  solid: ({ radius: r, length: h }, density) => {
    const [barrel, ends] = [density * Math.PI * r * r * h, density * (4 / 3) * Math.PI * r ** 3]
    // half a ball has its centre 3/8 of the radius from its flat side; moved from its own centre out to the end
    const across = (barrel * (3 * r * r + h * h)) / 12 + ends * (0.4 * r * r + (h * h) / 4 + (3 / 8) * h * r)
    const mass = barrel + ends
    return uniform(mass, across / mass, across / mass, (barrel * r * r * 0.5 + ends * 0.4 * r * r) / mass)
  },
  surface: ({ radius, length: h }, point) => capsuleSurface(point, radius, h / 2),
})

export const meshShape = defineShape({
  name: 'mesh',
  label: 'mesh',
  says: 'the mesh {file}',
  about: 'A mesh kept with the document, in metres after its scale. Without its content it has a name only and is not drawn.',
  slots: {
    ...placed,
    file: name({ label: 'file', of: 'text' }),
    mesh: name({ label: 'content', of: 'text', optional: true, note: 'SHA-256 of the mesh' }),
    scale: vector({ label: 'scale', unit: '', components: ['x', 'y', 'z'], fill: [1, 1, 1] }),
  },
  solid: ({ mesh: content, scale }, density, findMesh) => {
    const mesh = findMesh?.(content ?? '')
    return mesh && meshProperties(scaledMesh(mesh, scale), density)
  },
})

/** What a body is drawn as, and what its mass properties may come from. */
export const shapes: readonly ShapeKind[] = [box, cylinder, sphere, capsule, meshShape]

export type Shape = PartOf<ShapeKind>
