import { transfer } from 'comlink'
import { done, refusedFor } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'
import { parseMesh, unzipFiles } from '@calm-hand/core/formats'
import type { Files } from '@calm-hand/core/formats'
import type { Mesh } from '@calm-hand/core/machine'
import { fetchMesh } from '../state/server'

/** What takes a while with files. */
export const reading = {
  mesh(name: string, content: Uint8Array, onShare: (share: number) => void): Outcome<Mesh> {
    const mesh = parseMesh(name, content, { onShare })
    return mesh.kind === 'refused' ? mesh : transfer(mesh, [mesh.value.vertices.buffer, mesh.value.triangles.buffer])
  },
  /** A mesh that the server keeps, by its hash. */
  async keptMesh(name: string, hash: string, onShare: (share: number) => void): Promise<Outcome<Mesh>> {
    const content = await fetchMesh(hash)
    if (content === undefined)
      return refusedFor(name, 'This mesh is not kept here.', 'Give its file again at the body that shows it.')
    return reading.mesh(name, content, onShare)
  },
  unzip(content: Uint8Array): Outcome<Files> {
    const files = unzipFiles(content)
    return files.kind === 'refused' ? files : transfer(done(files.value), buffersOf(files.value))
  },
}

export type Reading = typeof reading

/** Each buffer once: several files may lie in one. */
function buffersOf(files: Files): ArrayBuffer[] {
  return [...new Set([...files.values()].map(({ buffer }) => buffer as ArrayBuffer))]
}
