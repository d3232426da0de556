import type { MessagePort } from 'node:worker_threads'
import { isKeptTable, parseMesh, unpackTable } from '@calm-hand/core/formats'
import type { Problem } from '@calm-hand/core/document'

interface Question {
  readonly name: string
  readonly bytes: Uint8Array
  readonly begun: MessagePort
}

/** Whether a file is a mesh, or a measured record as it is kept, that can be read, looked at away from the server's own thread. */
export default function meshProblems({ name, bytes, begun }: Question): readonly Problem[] {
  begun.postMessage('begun')
  const read = isKeptTable(name) ? unpackTable(bytes) : parseMesh(name, bytes)
  return read.kind === 'refused' ? read.problems.map((problem) => ({ ...problem, where: name })) : []
}
