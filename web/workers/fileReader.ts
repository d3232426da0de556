import { transfer } from 'comlink'
import { done, refused, refusedFor } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'
import { DelimitedReader, keptTableName, packTable, parseMesh, thinnedTable } from '@calm-hand/core/formats'
import type { Files } from '@calm-hand/core/formats'
import { likelyMapping } from '@calm-hand/core/identification'
import { looksLikeMillimetres, meshProblems } from '@calm-hand/core/machine'
import type { Mesh } from '@calm-hand/core/machine'
import type { Part } from '@calm-hand/core/document'
import type { RunSignal } from '@calm-hand/core/simulation'
import { fetchMesh, keepMesh } from '../state/server'
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
  /** A measured record, read as it comes and kept; gives what its columns are likely to be. */
  async record(file: File, signals: readonly RunSignal[], onShare: (share: number) => void): Promise<Outcome<RecordRead>> {
    const reader = new DelimitedReader(file.name)
    let read = 0
    const stream = file.stream().getReader()
    for (;;) {
      const { value, done: isOver } = await stream.read()
      if (isOver || !reader.push(value)) break
      read += value.length
      onShare(read / file.size)
    }
    const table = reader.end()
    if (table.kind === 'refused') return table
    const { uneven, hasHeader } = table.value
    const thin = thinnedTable(table.value)
    const kept = await keepMesh(keptTableName(file.name), packTable(thin))
    if (kept.kind === 'refused') return kept
    return done({ part: likelyMapping(thin, signals, kept.value), uneven, hasHeader, every: thin.every })
  },
  start(files: Files): Outcome<FileStart> {
    const start = startOf(files)
    return start.kind === 'refused' ? start : transfer(start, buffersOf(start.value.files))
  },
}

/** What was read of a measured record, beside its numbers. */
export interface RecordRead {
  readonly part: Part
  readonly hasHeader: boolean
  readonly uneven: { readonly count: number; readonly line: number } | undefined
  readonly every: number
}

export type Reading = typeof fileReader
