import { changesBetween } from '@calm-hand/core'
import type { Change } from '@calm-hand/core'
import type { Document } from '@calm-hand/core/document'
import { countOf, gentleStep, predictTrial, predictWatched, runHash, verdictsOf } from '@calm-hand/core/simulation'
import type { JudgedRun } from '@calm-hand/core/simulation'
import { designLoop, loopBlamed, retuned, staleLoops, togetherFigures } from '@calm-hand/core/tuning'
import type { Cut, TogetherFigures } from '@calm-hand/core/tuning'
import { checked, judged } from './check'
import { compared, recordAccounted, recordPlan, recordSeparated, recordSlopes } from './compared'
import { followed } from './followed'
import { madeAgain } from './madeAgain'
import { gapPlan, gapRun, gapShares } from './gap'
import { forms, locus, points, polesAndZeros } from './loops/looks'
import { withLaw } from './loops/lawChoice'
import { loopView } from './loops/loopView'
import { columnsOfMap, rangeOfMap } from './loops/maps'
import { meetInSteps } from './loops/meet'
import { newLoop } from './loops/newLoop'
import { plantSeen } from './loops/plantSeen'
import { rungsOf } from './loops/rungs'
import { spreadOf } from './loops/spreadOf'
import { earlier, ways } from './loops/ways'
import { effort, letters, report } from './machineLooks'
import { spanRead } from './span'

/** Everything that the page may ask: functions of a document, which give plain values. */
export const questions = {
  ...{ judged, checked },
  ...{ report, effort, letters },
  loopView,
  ...{ rungs: rungsOf, stale: staleLoops, beyondReach, runHashes, retuned: allRetuned },
  ...{ together, predicted: predictTrial, predictedWatched: predictWatched, spread: spreadOf },
  ...{ verdicts: verdictsOf, checkCounts, followed, gainNames },
  ...{ ways, earlier, points, polesAndZeros, locus, forms, plantSeen, newLoop, withLaw },
  ...{ changed, madeAgain },
  ...{ gapPlan, gapRun, gapShares, spanRead },
  ...{ compared, recordPlan, recordSlopes, recordAccounted, recordSeparated },
  ...{ rangeOfMap, columnsOfMap, meet: meetInSteps, gentleStep },
}

export type Questions = typeof questions

/** All loops of a machine together; nothing where one of them has no design. */
function together(document: Document, machine: string, cut: Cut): TogetherFigures | undefined {
  const figures = togetherFigures(document, machine, cut)
  return figures.kind === 'done' ? figures.value : undefined
}

/** How a document differs from an earlier one, in words. */
function changed(document: Document, before: Document): readonly Change[] {
  return changesBetween(before, document)
}

/** Loops that have no design, without those that only wait for one of these. */
function beyondReach(document: Document): readonly string[] {
  return Object.keys(document.loops).filter((name) => {
    const design = designLoop(document, name)
    return design.kind === 'refused' && loopBlamed(design.problems, name) === undefined
  })
}

/** How many checks of each trial hold and fail by its run. */
function checkCounts(document: Document, runs: readonly { readonly trial: string; readonly run: JudgedRun }[]) {
  return Object.fromEntries(runs.map(({ trial, run }) => [trial, countOf(verdictsOf(document, trial, run))]))
}

/** Gains of a machine's loops that are not 0, by their paths. */
function gainNames(document: Document, machine: string): readonly string[] {
  return Object.keys(document.loops).flatMap((loop) => {
    const design = document.loops[loop]!.machine === machine ? designLoop(document, loop) : undefined
    if (design?.kind !== 'done') return []
    return Object.entries(design.value.gains).flatMap(([gain, value]) => (value === 0 ? [] : [`loops.${loop}.gains.${gain}`]))
  })
}

/** What a run of each trial would be. */
function runHashes(document: Document): Readonly<Record<string, string>> {
  return Object.fromEntries(Object.keys(document.trials).map((trial) => [trial, runHash(document, trial)]))
}

/** All loops whose gains are stale, brought back to what they were made for. */
function allRetuned(document: Document) {
  return retuned(
    document,
    staleLoops(document).map(({ name }) => name),
  )
}
