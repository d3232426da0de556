import { join } from 'node:path'
import { MessageChannel } from 'node:worker_threads'
import { Piscina } from 'piscina'
import type { Problem } from '@calm-hand/core/document'
import type { BodyOutcome, Question } from './documents'

/** Longest time that one document or mesh may take, once a thread has it; far above what any needs. */
const longest = { documentMs: 10_000, meshMs: 60_000 }

export interface Readers {
  /** What a page sent, read and checked. */
  readonly body: (kind: Question['kind'], text: string) => Promise<BodyOutcome>
  /** What is wrong with a mesh; nothing where it can be read. */
  readonly mesh: (name: string, bytes: Uint8Array) => Promise<readonly Problem[]>
  readonly close: () => Promise<void>
}

/**
 * Threads that read what comes in: the server's own thread only passes on. Most are started when first needed. `folder` is
 * where the server was built, see `serverBuild`.
 */
export function startReaders({ documentMs, meshMs } = longest, folder = import.meta.dirname): Readers {
  const documents = pool(join(folder, 'documents.mjs'), { ready: 1, threads: 2, memoryMb: 1024 }) // one is there before the first save comes
  const meshes = pool(join(folder, 'meshes.mjs'), { ready: 0, threads: 1, memoryMb: 2048 })
  return {
    body: async (kind, text) =>
      (await within<BodyOutcome>(documents, documentMs, { kind, text })) ?? {
        status: 422,
        problems: [tookTooLong('document', documentMs)],
      },
    mesh: async (name, bytes) =>
      (await within<readonly Problem[]>(meshes, meshMs, { name, bytes })) ?? [tookTooLong(name, meshMs)],
    close: async () => {
      await Promise.all([documents.destroy(), meshes.destroy()])
    },
  }
}

function pool(filename: string, { ready, threads, memoryMb }: { ready: number; threads: number; memoryMb: number }): Piscina {
  return new Piscina({
    filename,
    execArgv: [],
    minThreads: ready,
    maxThreads: threads,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: memoryMb },
  })
}

/**
 * Nothing where it took longer or more memory than it may: the thread is ended, the next question gets another. The time
 * counts from when a thread begins: neither the wait in the queue nor the start of a thread is the document's fault.
 */
async function within<Answer>(pool: Piscina, ms: number, question: object): Promise<Answer | undefined> {
  const ending = new AbortController()
  const { port1: begins, port2: begun } = new MessageChannel()
  let timer: NodeJS.Timeout | undefined
  begins.once('message', () => (timer = setTimeout(() => ending.abort(), ms)))
  try {
    return (await pool.run({ ...question, begun }, { signal: ending.signal, transferList: [begun] })) as Answer
  } catch (error) {
    if (ending.signal.aborted || (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') return undefined
    throw error
  } finally {
    begins.close()
    clearTimeout(timer)
  }
}

function tookTooLong(where: string, ms: number): Problem {
  return {
    where,
    what: `Reading it took more than ${ms / 1000} s, or more memory than it may.`,
    remedy: 'Make it smaller: fewer parts, a coarser mesh.',
  }
}
