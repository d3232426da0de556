import type { Document } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { cues } from '@calm-hand/core/simulation'
import type { GapPlan } from '@calm-hand/core/study'
import { cueWords } from '../cueWords'
import type { TrialView } from '../useTrialView'

/** A cause as people say it: a cue by what it does. */
export function causeLabel(
  document: Document,
  view: Pick<TrialView, 'trial' | 'machine' | 'machineName'>,
  { cues: own, label }: GapPlan['causes'][number],
): string {
  const cue = own?.length === 1 ? document.trials[view.trial]?.cues[own[0]!] : undefined
  const kind = cue === undefined ? undefined : findKind(cues, cue)
  return cue === undefined || kind === undefined ? label : cueWords(document, view, kind, cue)
}
