import { proxy, transfer, wrap } from 'comlink'
import { refusedFor } from '@calm-hand/core/document'
import type { Outcome } from '@calm-hand/core/document'
import type { Files } from '@calm-hand/core/formats'
import type { Mesh } from '@calm-hand/core/machine'
import type { RunSignal } from '@calm-hand/core/simulation'
import { buffersOf } from '../workers/buffersOf'
import type { FileStart } from '../workers/fileStart'
import type { Reading, RecordRead } from '../workers/fileReader'
import { beginWork } from './work'

/** Reads a mesh away from the interface, with its progress shown; it can be cancelled. */
export function readMesh(name: string, content: Uint8Array): Promise<Outcome<Mesh>> {
  return apart(name, (reader, tell) => reader.mesh(name, content, tell))
}

/** Looks whether a mesh can stand in a scene, in the same way. */
export function readStanding(name: string, content: Uint8Array): Promise<Outcome<{ readonly isLarge: boolean }>> {
  return apart(name, (reader, tell) => reader.standing(name, content, tell))
}

/** The same for a mesh that the server keeps. */
export function readKeptMesh(name: string, hash: string): Promise<Outcome<Mesh>> {
  return apart(name, (reader, tell) => reader.keptMesh(name, hash, tell))
}

/** A measured record: read as it comes, kept, and guessed at. */
export function readRecord(file: File, signals: readonly RunSignal[]): Promise<Outcome<RecordRead>> {
  return apart(file.name, (reader, tell) => reader.record(file, signals, tell))
}

/** A project, or a machine from a robot description, out of files by their paths. */
export function readStart(name: string, files: Files): Promise<Outcome<FileStart>> {
  return apart(name, (reader) => reader.start(transfer(files, buffersOf(files))))
}

type Ask<Value> = (
  reader: {
    readonly [Name in keyof Reading]: (
      ...args: Parameters<Reading[Name]>
    ) => ReturnType<Reading[Name]> | Promise<Awaited<ReturnType<Reading[Name]>>>
  },
  tell: (share: number) => void,
) => Outcome<Value> | Promise<Outcome<Value>>

/** In a worker of its own, which cancelling ends; in place where there are no workers. */
async function apart<Value>(name: string, ask: Ask<Value>): Promise<Outcome<Value>> {
  if (typeof Worker === 'undefined') return ask((await import('../workers/fileReader')).fileReader, () => undefined)
  const { signal, tell, end } = beginWork(`Reading ${name.split('/').at(-1)}`)
  const worker = new Worker(new URL('../workers/files.worker.ts', import.meta.url), { type: 'module' })
  const ended = new Promise<Outcome<Value>>((resolve) => {
    signal.addEventListener('abort', () => resolve(refusedFor(name, 'Reading it was cancelled.', 'Give the file again.')))
    worker.addEventListener('error', () =>
      resolve(refusedFor(name, 'It needs more memory than this browser gives.', 'Export a coarser one.')),
    )
  })
  try {
    return await Promise.race([ask(wrap<Reading>(worker) as never, proxy(tell)), ended])
  } finally {
    worker.terminate()
    end()
  }
}
