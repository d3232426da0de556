import { transfer } from 'comlink'
import { done, refused, refusedFor } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'
import { parseMesh } from '@calm-hand/core/formats'
import type { Files } from '@calm-hand/core/formats'
import { looksLikeMillimetres, meshProblems } from '@calm-hand/core/machine'
import type { Mesh } from '@calm-hand/core/machine'
import { fetchMesh } from '../state/server'
import { buffersOf } from './buffersOf'
import { startOf } from './fileStart'
import type { FileStart } from './fileStart'

/** What takes a while with files. */
export const fileReader = {
  mesh(name: string, content: Uint8Array, onShare: (share: number) => void): Outcome<Mesh> {
    const mesh = parseMesh(name, content, { onShare })
    return mesh.kind === 'refused' ? mesh : transfer(mesh, [mesh.value.vertices.buffer, mesh.value.triangles.buffer])
  },
  /** A mesh that the server keeps, by its hash. */
  async keptMesh(name: string, hash: string, onShare: (share: number) => void): Promise<Outcome<Mesh>> {
    const content = await fetchMesh(hash)
    if (content === undefined)
      return refusedFor(name, 'This mesh is not kept here.', 'Give its file again at the body that shows it.')
    return fileReader.mesh(name, content, onShare)
  },
  /** What is wrong with a mesh that is to stand in a scene, and whether it looks as if it were in millimetres. */
  standing(name: string, content: Uint8Array, onShare: (share: number) => void): Outcome<{ readonly isLarge: boolean }> {
    const mesh = parseMesh(name, content, { onShare })
    if (mesh.kind === 'refused') return mesh
    const problems = meshProblems(name, mesh.value)
    return problems.length > 0 ? refused(problems) : done({ isLarge: looksLikeMillimetres(mesh.value) })
  },
  start(files: Files): Outcome<FileStart> {
    const start = startOf(files)
    return start.kind === 'refused' ? start : transfer(start, buffersOf(start.value.files))
  },
}

export type Reading = typeof fileReader
