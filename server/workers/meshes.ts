import type { MessagePort } from 'node:worker_threads'
import { parseMesh } from '@calm-hand/core/formats'
import type { Problem } from '@calm-hand/core/document'

interface Question {
  readonly name: string
  readonly bytes: Uint8Array
  readonly begun: MessagePort
}

/** Whether a file is a mesh that can be read, looked at away from the server's own thread. */
export default function meshProblems({ name, bytes, begun }: Question): readonly Problem[] {
  begun.postMessage('begun')
  const mesh = parseMesh(name, bytes)
  return mesh.kind === 'refused' ? mesh.problems.map((problem) => ({ ...problem, where: name })) : []
}
