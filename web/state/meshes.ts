import { useEffect, useMemo } from 'react'
import { create } from 'zustand'
import type { Part } from '@calm-hand/core/document'
import { meshPlaces } from '@calm-hand/core/machine'
import type { Mesh } from '@calm-hand/core/machine'
import { readKeptMesh } from './readFiles'

/** Meshes by content hash: fetched and read away from the interface, once. */
const useLoaded = create<{ readonly meshes: ReadonlyMap<string, Mesh> }>(() => ({ meshes: new Map() }))
const asked = new Set<string>()

/** The meshes that a machine's shapes show, and those that stand in a scene, as they arrive. */
export function useMeshes(machine: Part, scene?: Part): ReadonlyMap<string, Mesh> {
  const all = useLoaded((state) => state.meshes)
  const wanted = useMemo(() => wantedBy(machine, scene), [machine, scene])
  useEffect(() => {
    for (const { file, mesh } of wanted) void load(mesh, file)
  }, [wanted])
  const here = wanted.filter(({ mesh }) => all.has(mesh))
  // the same map as long as the same meshes are here: an edit of the machine is no reason to draw them anew
  const key = here.map(({ mesh }) => mesh).join()
  // eslint-disable-next-line react-hooks/exhaustive-deps
  return useMemo(() => new Map(here.map(({ mesh }) => [mesh, all.get(mesh)!])), [key])
}

function wantedBy(machine: Part, scene: Part | undefined) {
  const places = meshPlaces({ machines: { machine }, ...(scene === undefined ? {} : { scenes: { scene } }) })
  return places.flatMap(({ file, mesh }) => (mesh === undefined ? [] : [{ file, mesh }]))
}

/** The same once all of them have arrived, without those that do not come. */
export async function meshesOf(machine: Part, scene?: Part): Promise<ReadonlyMap<string, Mesh>> {
  const wanted = wantedBy(machine, scene)
  await Promise.all(wanted.map(({ mesh, file }) => load(mesh, file)))
  const all = useLoaded.getState().meshes
  return new Map(wanted.flatMap(({ mesh }) => (all.has(mesh) ? [[mesh, all.get(mesh)!]] : [])))
}

async function load(hash: string, name: string): Promise<void> {
  if (asked.has(hash)) return
  asked.add(hash)
  const mesh = await readKeptMesh(name, hash)
  if (mesh.kind === 'refused') asked.delete(hash)
  else useLoaded.setState(({ meshes }) => ({ meshes: new Map([...meshes, [hash, mesh.value]]) }))
}
