import { wrap } from 'comlink'
import type { Remote } from 'comlink'
import type { Mapper } from '../workers/map.worker'

let workers: readonly Remote<Mapper>[] | undefined

/** The two workers that work out maps and margins of loops, started with the first question. */
export function mappers(): readonly Remote<Mapper>[] {
  workers ??= [0, 1].map(() => wrap<Mapper>(new Worker(new URL('../workers/map.worker.ts', import.meta.url), { type: 'module' })))
  return workers
}
