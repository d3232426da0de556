import { checkDocument } from '../../core'
import { mutatedDocument } from '../../core/tests/mutated'
import { fileSorts, mutatedFile } from './files'

export interface FuzzShare {
  /** A sort of file by name, or documents. */
  readonly sort: string
  readonly from: number
  readonly count: number
}

export interface FuzzFound {
  readonly exceptions: readonly { readonly seed: number; readonly message: string }[]
  readonly longestMs: number
  readonly longestSeed: number
  readonly taken: number
}

/** What is looked at again, ms, and how often: the machine may have been busy with something else. */
const suspectMs = 1_000
const looks = 5

/** One thread's share of the mutated documents or files. */
export default function fuzzed({ sort, from, count }: FuzzShare): FuzzFound {
  const files = fileSorts.find(({ name }) => name === sort)
  const exceptions: { seed: number; message: string }[] = []
  let [longestMs, longestSeed, taken] = [0, 0, 0]
  /** Tells the time it took. */
  const attempt = (seed: number, isAgain: boolean): number => {
    const given = files === undefined ? mutatedDocument(seed) : mutatedFile(files, seed)
    const began = performance.now()
    try {
      const outcome = files === undefined ? checkDocument(given) : files.read(given as Uint8Array)
      if (!isAgain && (outcome as { kind?: string }).kind === 'done') taken++
    } catch (error) {
      if (!isAgain && exceptions.length < 20) exceptions.push({ seed, message: String((error as Error).stack).slice(0, 400) })
    }
    return performance.now() - began
  }
  for (let seed = from; seed < from + count; seed++) {
    let took = attempt(seed, false)
    for (let look = 1; look < looks && took > suspectMs; look++) took = Math.min(took, attempt(seed, true))
    if (took > longestMs) [longestMs, longestSeed] = [took, seed]
  }
  return { exceptions, longestMs, longestSeed, taken }
}
