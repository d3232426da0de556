import type { Document, Part } from '@calm-hand/core/document'
import { contentHash, partHash } from '@calm-hand/core/document'
import type { MechanismLayerName } from '@calm-hand/core/machine'
import type { Naming } from '@calm-hand/core/letters'
import type { ModelReport } from '@calm-hand/core/simulation'
import { useAnswer } from '../compute'
import type { AnswerState, Resting } from '../compute'

/** A drag makes many machines; only the one that stays for this long is looked at. */
const settleMs = 250

/** What is shown of a machine that is looked at: nothing of how it was a moment ago. */
export type Looked<Name extends 'report' | 'effort' | 'letters'> = Pick<AnswerState<Name>, 'answer' | 'failure'>

function now<Name extends 'report' | 'effort' | 'letters'>({ answer, failure, late }: AnswerState<Name>): Looked<Name> {
  return late ? { answer: undefined, failure: undefined } : { answer, failure }
}

interface Report extends Looked<'report'> {
  /** That of the machine as it was a moment ago, until its own comes. */
  readonly before: AnswerState<'report'>['answer']
}

/** The report of a machine, once it has been made. */
export function useReport(document: Document, machine: string, layers: readonly MechanismLayerName[]): Report {
  const key = contentHash([partHash(document.machines[machine]!), layers])
  const state = useAnswer('report', document, [machine, layers], { subject: machine, lane: 'side', rank: 1, key, settleMs })
  return { ...now(state), before: state.late ? state.answer : undefined }
}

/** What a motion of a machine asks of its drives; nothing without a motion. */
export function useEffort(
  document: Document,
  machine: string,
  motion: string | undefined,
  layers: readonly MechanismLayerName[],
): Looked<'effort'> {
  const key = contentHash([partHash(document.machines[machine]!), motion ?? '', layers])
  const rest = motion === undefined ? undefined : ([machine, motion, layers] as [string, string, typeof layers])
  return now(useAnswer('effort', document, rest, { subject: machine, lane: 'side', rank: 2, key, settleMs }))
}

/** The equations of a machine in letters, linear about where its report has it rest. */
export function useLetters(
  document: Document,
  machine: string,
  written: Part,
  naming: Naming,
  report: ModelReport | undefined,
): Looked<'letters'> {
  const point = report?.point.kind === 'done' ? report.point.value : undefined
  const rest: Resting | undefined = point === undefined ? undefined : { q: point.q, system: point.system }
  // about the same point the linear form is another one with other layers
  const about = point === undefined ? '' : partHash(point.system)
  const key = contentHash([partHash(document.machines[machine]!), partHash(written), naming, point?.q ?? [], about])
  return now(
    useAnswer('letters', document, [machine, written, naming, rest], { subject: machine, lane: 'side', rank: 2, key, settleMs }),
  )
}
