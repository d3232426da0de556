import { useMemo } from 'react'
import { partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { judgedPart } from '@calm-hand/core/simulation'
import type { CheckCount, Record as RunRecord, Verdict } from '@calm-hand/core/simulation'
import { useAnswer } from '../compute'
import { useRuns } from './runs'
import { afterTheStation } from './stale'
import { keyOf } from './together'

/** What a run of a trial says of its checks as they are now; nothing without a run or a check. */
export function useVerdicts(document: Document, trial: string, record: RunRecord | undefined): readonly Verdict[] | undefined {
  const { machine, ...asked } = document.trials[trial]!
  const isAsked = record !== undefined && Object.keys(partsIn(asked.checks)).length > 0
  const words = JSON.stringify(asked)
  // words say all of the trial, of which a drag makes many
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const part = useMemo(() => (isAsked ? judgedPart(document, trial, record) : undefined), [isAsked, words, trial, record])
  return useAnswer('verdicts', document, part === undefined ? undefined : [trial, part], {
    subject: trial,
    rank: 2,
    key: keyOf(document, machine, [record?.hash ?? '', words]),
  }).answer
}

/** How many checks of each trial hold by its last run, where that has some and its record is at hand. */
export function useCheckCounts(document: Document): Readonly<Record<string, CheckCount>> {
  const latest = useRuns((runs) => runs.latest)
  const records = useRuns((runs) => runs.records)
  const runs = useMemo(
    () =>
      Object.keys(document.trials).flatMap((trial) => {
        const record = records[latest[trial]?.hash ?? '']
        if (record === undefined || Object.keys(partsIn(document.trials[trial]!.checks)).length === 0) return []
        return [{ trial, run: judgedPart(document, trial, record) }]
      }),
    [document, records, latest],
  )
  const { answer } = useAnswer('checkCounts', document, runs.length === 0 ? undefined : [runs], {
    ...{ ...afterTheStation, subject: 'checks' },
  })
  return answer ?? none
}

const none = {}
