import { transfer } from 'comlink'
import type { Document } from '@calm-hand/core/document'
import { endedByChecks, layerNamesOn, verdictsOf } from '@calm-hand/core/simulation'
import type { Verdict } from '@calm-hand/core/simulation'
import { createLastProgram } from '../workers/lastProgram'
import { sentOf } from '../workers/sentRecord'
import type { SentRecord } from '../workers/sentRecord'

const programs = createLastProgram('followed')

/** A trial as it runs with what is under the hand just now; nothing where it cannot be run. */
export interface Followed {
  readonly record: SentRecord
  readonly verdicts: readonly Verdict[]
}

/** Runs a trial once, without looking how good its steps are: it is run again, and kept, when the hand has let go. */
export async function followed(given: Document, trial: string): Promise<Followed | undefined> {
  const ready = await programs(given, trial)
  if (ready.kind === 'refused') return undefined
  const { document, simulation } = ready.value
  const part = document.trials[trial]!
  const record = endedByChecks(document, simulation.run({ trial, seed: part.seed, layers: layerNamesOn(part) }))
  const verdicts = verdictsOf(document, trial, record)
  const { sent, buffers } = sentOf(record)
  return transfer({ record: sent, verdicts }, buffers)
}
