import type { Document, Outcome } from '@calm-hand/core/document'
import type { CueCame } from '@calm-hand/core/simulation'
import { gapAccount, gapRuns } from '@calm-hand/core/study'
import type { Coalition, GapAccount, GapPlan, GapRun } from '@calm-hand/core/study'
import { standingMeshes } from '../workers/standingMeshes'

export { gapPlan } from '@calm-hand/core/study'

/** The runs of some coalitions of causes of the gap of a trial. */
export async function gapRun(
  document: Document,
  trial: string,
  came: readonly CueCame[],
  coalitions: readonly Coalition[],
): Promise<Outcome<readonly GapRun[]>> {
  return gapRuns(document, trial, came, coalitions, await standingMeshes(document, trial))
}

/** The account of a signal over a window, of the runs of all coalitions. */
export function gapShares(
  _document: Document,
  plan: GapPlan,
  runs: readonly GapRun[],
  signal: string,
  from: number,
  to: number,
): Outcome<GapAccount> {
  return gapAccount(plan, runs, signal, from, to)
}
