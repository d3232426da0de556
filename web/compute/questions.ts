import type { Document } from '@calm-hand/core/document'
import { designLoop, retuned, staleLoops } from '@calm-hand/core/tuning'
import { judged } from './check'
import { forms, locus, points, polesAndZeros } from './loops/looks'
import { loopView } from './loops/loopView'
import { newLoop } from './loops/newLoop'
import { plantSeen } from './loops/plantSeen'
import { rungsOf } from './loops/rungs'
import { earlier, ways } from './loops/ways'

/** Everything that the page may ask: functions of a document, which give plain values. */
export const questions = {
  judged,
  loopView,
  ...{ rungs: rungsOf, stale: staleLoops, beyondReach, retuned: allRetuned },
  ...{ ways, earlier, points, polesAndZeros, locus, forms, plantSeen, newLoop },
}

export type Questions = typeof questions

/** Loops that have no design. */
function beyondReach(document: Document): readonly string[] {
  return Object.keys(document.loops).filter((name) => designLoop(document, name).kind === 'refused')
}

/** All loops whose gains are stale, brought back to what they were made for. */
function allRetuned(document: Document) {
  return retuned(
    document,
    staleLoops(document).map(({ name }) => name),
  )
}
