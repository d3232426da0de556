import { useMemo } from 'react'
import { partHash, partsIn } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import type { CheckCount, JudgedRun, Record as RunRecord, Verdict } from '@calm-hand/core/simulation'
import { useAnswer } from '../compute'
import { useRuns } from './runs'
import { afterTheStation } from './stale'
import { keyOf } from './together'

/**
 * What of a record the checks of a trial may look at: every column that their words name, and what loops that they name hold.
 * Told by the words alone, since the header asks too: the kinds of checks are not loaded with the first page.
 */
export function judgedPart(document: Document, trial: string, { time, ending, columns, cues }: RunRecord): JudgedRun {
  const { machine, checks } = document.trials[trial]!
  const words = JSON.stringify(checks)
  const isNamed = (loop: string) => words.includes(`"${loop}"`) || words.includes(`loops.${loop}.`)
  const ofLoops = Object.entries(document.loops).flatMap(([loop, { holds }]) =>
    isNamed(loop) ? [`${machine}.${holds}`, `loops.${loop}.reference`] : [],
  )
  const own = `${machine}.`
  const isLookedAt = (name: string) =>
    ofLoops.includes(name) || words.includes(name.startsWith(own) ? name.slice(own.length) : name)
  return { time, ending, ...(cues === undefined ? {} : { cues }), columns: columns.filter(({ name }) => isLookedAt(name)) }
}

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
  const { asked, key } = useMemo(() => {
    const judged = Object.entries(document.trials).flatMap(([trial, part]) => {
      const record = records[latest[trial]?.hash ?? '']
      return record === undefined || Object.keys(partsIn(part.checks)).length === 0 ? [] : [{ trial, part, record }]
    })
    return {
      asked: judged.map(({ trial, record }) => ({ trial, run: judgedPart(document, trial, record) })),
      // a record has thousands of rows: it is told by its hash
      key: judged
        .map(({ trial, part, record }) => keyOf(document, part.machine as string, [trial, record.hash, partHash(part)]))
        .join(' '),
    }
  }, [document, records, latest])
  const { answer } = useAnswer('checkCounts', document, asked.length === 0 ? undefined : [asked], {
    ...{ ...afterTheStation, subject: 'checks', key },
  })
  return answer ?? none
}

const none = {}
