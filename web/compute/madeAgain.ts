import type { Document, Outcome } from '@calm-hand/core/document'
import { done } from '@calm-hand/core/document'
import { engineVersion, judgedRun, layerNamesOn, runHash } from '@calm-hand/core/simulation'
import { createLastProgram } from '../workers/lastProgram'

const programs = createLastProgram()

/** A kept run as it was: its hash and its numbers. */
export interface AsItWas {
  readonly hash: string
  readonly time: Float64Array
  readonly columns: readonly { readonly name: string; readonly values: Float64Array }[]
}

/** What came of making a run again. */
export interface MadeAgain {
  /** Whether its hash is the same: not where the engine has become another since. */
  readonly sameHash: boolean
  readonly engine: string
  readonly numbers: number
  /** How many of its numbers have other bits, and the first column that has some. */
  readonly differ: number
  readonly first: string | undefined
}

/** Makes a run again from what made it, and compares it with the kept one, bit for bit. */
export async function madeAgain(given: Document, trial: string, was: AsItWas): Promise<Outcome<MadeAgain>> {
  const ready = await programs(given, trial)
  if (ready.kind === 'refused') return ready
  const { document, program, simulation } = ready.value
  const part = document.trials[trial]!
  const record = judgedRun(document, program, simulation, { trial, seed: part.seed, layers: layerNamesOn(part) })
  const now = new Map(record.columns.map((column) => [column.name, column.values]))
  const pairs = [
    { name: 'time', before: was.time, after: record.time },
    ...was.columns.map(({ name, values }) => ({ name, before: values, after: now.get(name) })),
  ].map(({ name, before, after }) => ({ name, numbers: before.length, differ: differing(before, after) }))
  const total = (of: (pair: (typeof pairs)[number]) => number) => pairs.reduce((sum, pair) => sum + of(pair), 0)
  return done({
    ...{ sameHash: runHash(document, trial) === was.hash, engine: engineVersion },
    ...{ numbers: total(({ numbers }) => numbers), differ: total(({ differ }) => differ) },
    first: pairs.find(({ differ }) => differ > 0)?.name,
  })
}

/** Rows of a column that have not the same bits; all of one that is gone. */
function differing(before: Float64Array, after: Float64Array | undefined): number {
  if (after === undefined) return before.length
  const [a, b] = [before, after].map((values) => new BigUint64Array(Float64Array.from(values).buffer))
  let count = Math.abs(a!.length - b!.length)
  for (let k = 0; k < Math.min(a!.length, b!.length); k++) if (a![k] !== b![k]) count++
  return count
}
