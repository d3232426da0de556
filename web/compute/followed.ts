import { transfer } from 'comlink'
import type { Document } from '@calm-hand/core/document'
import { trialLayers } from '@calm-hand/core/machine'
import { columnHead, endedByChecks, layersOn, verdictsOf } from '@calm-hand/core/simulation'
import type { Verdict } from '@calm-hand/core/simulation'
import { createLastProgram } from '../workers/lastProgram'
import type { SentRecord } from '../workers/simulate.worker'

const programs = createLastProgram()

/** A trial as it runs with what is under the hand just now; nothing where it cannot be run. */
export interface Followed {
  readonly record: SentRecord
  readonly verdicts: readonly Verdict[]
}

/** Runs a trial once, without looking how good its steps are: it is run again, and kept, when the hand has let go. */
export function followed(given: Document, trial: string): Followed | undefined {
  const ready = programs(given, trial)
  if (ready.kind === 'refused') return undefined
  const { document, simulation } = ready.value
  const part = document.trials[trial]!
  const on = layersOn(part as never)
  const layers = trialLayers.map(({ name }) => name).filter((layer) => on.has(layer))
  const record = endedByChecks(document, simulation.run({ trial, seed: part.seed, layers }))
  const verdicts = verdictsOf(document, trial, record)
  const sent: SentRecord = { ...record, columns: record.columns.map(columnHead), rows: record.rows! }
  return transfer({ record: sent, verdicts }, [sent.time.buffer, sent.rows.buffer] as ArrayBuffer[])
}
