import { name, number, vector } from '../kinds'
import type { Kind } from '../kinds'

interface ShapeKind extends Kind {
  readonly label: string
}

/** Where a shape's own frame lies on its body. */
const placed = {
  at: vector({ label: 'place', unit: 'm', components: ['x', 'y', 'z'] }),
  turned: vector({ label: 'turned', unit: 'rad', components: ['x', 'y', 'z'], note: 'about fixed x, then y, then z' }),
} as const
const length = (label: string) => number({ label, unit: 'm', above: 0 })

export const box = {
  name: 'box',
  label: 'box',
  says: 'a box',
  about: 'Centred at its place.',
  slots: { ...placed, size: vector({ label: 'size', unit: 'm', components: ['x', 'y', 'z'] }) },
} as const satisfies ShapeKind

export const cylinder = {
  name: 'cylinder',
  label: 'cylinder',
  says: 'a cylinder of radius {radius}, {length} long',
  about: 'Its axis is z, its middle at its place.',
  slots: { ...placed, radius: length('radius'), length: length('length') },
} as const satisfies ShapeKind

export const sphere = {
  name: 'sphere',
  label: 'sphere',
  says: 'a sphere of radius {radius}',
  about: 'Centred at its place.',
  slots: { ...placed, radius: length('radius') },
} as const satisfies ShapeKind

export const meshShape = {
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
} as const satisfies ShapeKind

/** What a body is drawn as, and what its mass properties may come from. */
export const shapes = [box, cylinder, sphere, meshShape]
