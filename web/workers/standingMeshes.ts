import type { Document } from '@calm-hand/core/document'
import { parseMesh } from '@calm-hand/core/formats'
import { meshPlaces } from '@calm-hand/core/machine'
import type { FindMesh, Mesh } from '@calm-hand/core/machine'
import { sceneOf } from '@calm-hand/core/scene'
import { fetchMesh } from '../state/server'

/** Those of the last trial that had some: a large one takes its room. */
let kept: ReadonlyMap<string, Mesh> = new Map()

/** The meshes that stand in the scene of a trial, fetched and read once; what is not kept, or cannot be read, is not given. */
export async function standingMeshes(document: Document, trial: string): Promise<FindMesh> {
  const scene = sceneOf(document, trial)
  const places = scene === undefined ? [] : meshPlaces({ machines: {}, scenes: { scene } })
  const found = await Promise.all(
    places.map(async ({ file, mesh: hash = '' }): Promise<readonly [string, Mesh | undefined]> => {
      const known = kept.get(hash)
      if (known !== undefined || hash === '') return [hash, known]
      const content = await fetchMesh(hash)
      const read = content === undefined ? undefined : parseMesh(file, content)
      return [hash, read?.kind === 'done' ? read.value : undefined]
    }),
  )
  const meshes = new Map(found.flatMap(([hash, mesh]) => (mesh === undefined ? [] : [[hash, mesh] as const])))
  if (meshes.size > 0) kept = meshes
  return (hash) => meshes.get(hash)
}
