import { parseMesh } from '@calm-hand/core/formats'
import type { Problem } from '@calm-hand/core/document'

/** Whether a file is a mesh that can be read, looked at away from the server's own thread. */
export default function meshProblems({ name, bytes }: { name: string; bytes: Uint8Array }): readonly Problem[] {
  const mesh = parseMesh(name, bytes)
  return mesh.kind === 'refused' ? mesh.problems.map((problem) => ({ ...problem, where: name })) : []
}
