import { useEffect, useMemo, useRef } from 'react'
import type { Document } from '@calm-hand/core/document'
import { runHash } from '@calm-hand/core/simulation'
import type { Record as RunRecord, Verdict } from '@calm-hand/core/simulation'
import { useAnswer } from '../compute'
import { receivedOf } from '../workers/sentRecord'
import { useOpen, useProject } from './project'
import { runNow } from './runNow'
import { useRuns } from './runs'

/** ms: a trial that took longer to run, or to be made ready, does not follow the hand. */
const [longestRun, longestReady] = [400, 1000]
/** ms: one that takes longer is not run again after every edit, though nobody waits for it. */
const longestAside = 10_000

/** Whether runs that take so long, ms, go along with what is under the hand. */
export function isFollowing({ run, compile }: { readonly run: number; readonly compile: number }): boolean {
  return run < longestRun && compile < longestReady
}

/** A run that goes along with what is under the hand. */
export interface Following {
  readonly record: RunRecord
  readonly verdicts: readonly Verdict[]
}

/** Whether what was under the hand was put back. */
function isAsBefore(document: Document): boolean {
  return useProject.getState().project?.document === document
}

/**
 * While anything is dragged or typed the trial runs with it, the newest value first, where it has run before and was quick;
 * once that is taken it is run as ever, and kept. Nothing while nothing is under the hand.
 */
export function useFollowing(document: Document, trial: string | undefined): Following | undefined {
  const isHeld = useOpen(({ gesture }) => gesture !== undefined)
  const project = useRuns(({ projectId }) => projectId)
  const isQuick = useRuns(
    ({ took, latest }) => took !== undefined && isFollowing(took) && trial !== undefined && latest[trial] !== undefined,
  )
  const asked: [string] | undefined = trial !== undefined && isHeld && isQuick ? [trial] : undefined
  const { answer } = useAnswer('followed', document, asked, { subject: trial ?? '' })
  const following = useMemo(
    () => (answer === undefined ? undefined : { verdicts: answer.verdicts, record: receivedOf(answer.record) }),
    [answer],
  )
  // what was let go is run and kept, unless it is as it was
  const before = useRef<{ readonly trial: string | undefined; readonly document: Document; readonly has: boolean }>(undefined)
  useEffect(() => {
    if (isHeld) {
      before.current ??= { trial, document: useProject.getState().project!.gesture!, has: false }
      if (following !== undefined) before.current = { ...before.current, has: true }
      return
    }
    const { current } = before
    before.current = undefined
    const isOfThis = current?.has === true && current.trial === trial && !isAsBefore(current.document)
    if (isOfThis && trial !== undefined && project !== undefined) void runNow(project, trial)
  }, [isHeld, following, document, trial, project])
  return isHeld ? following : undefined
}

/**
 * A trial as it runs with the document as it is: what is under the hand just now, or the run that is kept of it. It is run
 * where it has not, by itself, unless that takes long.
 */
export function useSimulated(document: Document, trial: string | undefined): RunRecord | undefined {
  const following = useFollowing(document, trial)
  const isHeld = useOpen(({ gesture }) => gesture !== undefined)
  // no run is kept of what is under the hand
  const hash = useMemo(() => (trial === undefined || isHeld ? undefined : runHash(document, trial)), [document, trial, isHeld])
  const kept = useRuns(({ records }) => (hash === undefined ? undefined : records[hash]))
  const project = useRuns(({ projectId }) => projectId)
  const isLate = trial !== undefined && kept === undefined && !isHeld
  useEffect(() => {
    if (!isLate || project === undefined) return
    const { took } = useRuns.getState()
    if (took === undefined || took.run < longestAside) void runNow(project, trial)
  }, [isLate, hash, project, trial])
  return following?.record ?? kept
}
