import { partsIn, replaceAt } from '../document'
import type { Document, Problem } from '../document'

/** A place of a mesh shape in a document, and what it names. */
export interface MeshPlace {
  /** Document path of the shape. */
  readonly path: string
  /** As the shape names it; its ending says the format. */
  readonly file: string
  /** Content hash of the mesh that is kept for it, if any. */
  readonly mesh: string | undefined
}

/** All mesh shapes of a document: of bodies, and of what stands in its scenes. */
export function meshPlaces({ machines, scenes = {} }: Pick<Document, 'machines' | 'scenes'>): MeshPlace[] {
  const ofBodies = Object.entries(machines).flatMap(([machine, { bodies }]) =>
    Object.entries(partsIn(bodies)).flatMap(([body, { shapes }]) =>
      meshesAt(`machines.${machine}.bodies.${body}.shapes`, shapes),
    ),
  )
  const standing = Object.entries(scenes).flatMap(([scene, { obstacles }]) => meshesAt(`scenes.${scene}.obstacles`, obstacles))
  return [...ofBodies, ...standing]
}

function meshesAt(where: string, shapes: unknown): MeshPlace[] {
  return Object.entries(partsIn(shapes))
    .filter(([, { kind }]) => kind === 'mesh')
    .map(([name, { file, mesh }]) => ({ path: `${where}.${name}`, file: file as string, mesh: mesh as string | undefined }))
}

/** What mesh shapes of bodies miss, in words: one problem for all, so that a robot of sixty meshes does not fill the page. */
export function missingMeshes({ machines }: Pick<Document, 'machines'>): Problem[] {
  const missing = meshPlaces({ machines }).filter(({ mesh }) => mesh === undefined)
  if (missing.length === 0) return []
  const names = [...new Set(missing.map(({ file }) => fileSteps(file).at(-1) ?? 'without a name'))]
  const shown = names.slice(0, 3).join(', ') + (names.length > 3 ? ` and ${names.length - 3} more` : '')
  const what = `${missing.length === 1 ? 'A mesh is' : `${missing.length} meshes are`} not here and not drawn: ${shown}.`
  return [{ where: missing[0]!.path, what, remedy: 'Give the files below the rigging; mass and motion do not need them.' }]
}

/** The document with content for mesh shapes, hashes by the path of the shape. */
export function withMeshContent(document: Document, hashes: ReadonlyMap<string, string>): Document {
  return [...hashes].reduce((next, [path, hash]) => replaceAt(next, `${path}.mesh`, hash), document)
}

/** The names along a path, without the scheme and the dots of a file system. */
export function fileSteps(path: string): string[] {
  return path
    .replace(/^[a-z]+:\/\//i, '')
    .split(/[\\/]+/)
    .filter((step) => step !== '' && step !== '.' && step !== '..')
}
