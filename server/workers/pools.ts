import { extname, join } from 'node:path'
import { Piscina } from 'piscina'
import type { Problem } from '@calm-hand/core/document'
import type { BodyOutcome } from './documents'

/** Longest time that one document or mesh may take; far above what any needs. */
const documentMs = 10_000
const meshMs = 60_000

export interface Readers {
  /** What a page sent, read and checked. */
  readonly body: (kind: 'save' | 'add', text: string) => Promise<BodyOutcome>
  /** What is wrong with a mesh; nothing where it can be read. */
  readonly mesh: (name: string, bytes: Uint8Array) => Promise<readonly Problem[]>
  readonly close: () => Promise<void>
}

/** Threads that read what comes in: the server's own thread only passes on. Most are started when first needed. */
export function startReaders(): Readers {
  const documents = pool('documents', { ready: 1, threads: 2, memoryMb: 1024 }) // one is there before the first save comes
  const meshes = pool('meshes', { ready: 0, threads: 1, memoryMb: 2048 })
  return {
    body: async (kind, text) =>
      (await within(documentMs, (signal) => documents.run({ kind, text }, { signal }) as Promise<BodyOutcome>)) ?? {
        status: 422,
        problems: [tookTooLong('document', documentMs)],
      },
    mesh: async (name, bytes) =>
      (await within(meshMs, (signal) => meshes.run({ name, bytes }, { signal }) as Promise<readonly Problem[]>)) ?? [
        tookTooLong(name, meshMs),
      ],
    close: async () => {
      await Promise.all([documents.destroy(), meshes.destroy()])
    },
  }
}

/** Sources in tests, plain JavaScript in the build. */
const ending = extname(import.meta.filename)

function pool(name: string, { ready, threads, memoryMb }: { ready: number; threads: number; memoryMb: number }): Piscina {
  return new Piscina({
    filename: join(import.meta.dirname, `${name}${ending}`),
    execArgv: ending === '.ts' ? ['--import', 'tsx'] : [],
    minThreads: ready,
    maxThreads: threads,
    idleTimeout: 60_000,
    resourceLimits: { maxOldGenerationSizeMb: memoryMb },
  })
}

/** Nothing where it took longer or more memory than it may: the thread is ended, the next question gets another. */
async function within<Answer>(ms: number, ask: (signal: AbortSignal) => Promise<Answer>): Promise<Answer | undefined> {
  const ending = new AbortController()
  const timer = setTimeout(() => ending.abort(), ms)
  try {
    return await ask(ending.signal)
  } catch (error) {
    if (ending.signal.aborted || (error as { code?: string }).code === 'ERR_WORKER_OUT_OF_MEMORY') return undefined
    throw error
  } finally {
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
