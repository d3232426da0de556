import { comesToRest } from './comesToRest'
import { conditionHolds } from './conditionHolds'
import { happensBefore } from './happensBefore'
import { overshoots } from './overshoots'
import { reaches } from './reaches'
import { settles } from './settles'
import { staysBeyond } from './staysBeyond'
import { staysNear } from './staysNear'
import { staysUpright } from './staysUpright'
import { usesLess } from './usesLess'
import type { Check } from './check'

export { errorSignal } from './check'
export { conditionProblems } from './conditions'
export type { CalmBand, Check, FirstLook, Judgement } from './check'
export type { Looked } from './check'

/** In the order people see. */
export const checks: readonly Check[] = [
  ...[staysNear, settles, overshoots, staysBeyond, staysUpright],
  ...[reaches, comesToRest, usesLess, happensBefore, conditionHolds],
]
