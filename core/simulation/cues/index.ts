import { approachCue } from './approachCue'
import { changeCue } from './changeCue'
import { failureCue } from './failureCue'
import { faults } from './faults'
import { gustCue } from './gustCue'
import { impulseCue } from './impulseCue'
import { minimumJerkCue } from './minimumJerkCue'
import { pushCue } from './pushCue'
import { rampCue } from './rampCue'
import { sCurveCue } from './sCurveCue'
import { sineCue } from './sineCue'
import { stepCue } from './stepCue'
import { switchCue } from './switchCue'
import { sweepCue } from './sweepCue'
import { tableCue } from './tableCue'
import { touchCue } from './touchCue'
import { trapezoidCue } from './trapezoidCue'
import { twistCue } from './twistCue'
import type { Part } from '../../document'
import { playedCues as played } from './played'
import type { CameAt, PlayedCue, Remember } from './played'
import type { Cue } from './cue'

export { lanes } from './cue'
export type { AddedPart, AlteredNow, Cue, CueNow, Lane, NumberChange, ReadCue } from './cue'
export { ends, fullSentence, lastingFor, starts, waitsOf } from './times'
export { touchCue, touchesIn } from './touchCue'
export type { Touched } from './touchCue'
export type { Waits } from './times'
export { bendsOf, cueAt, fades, mixed, never } from './played'
export type { Awaited, CameAt, PlayedCue, Remember } from './played'

/** In the order people see. */
export const cues: readonly Cue[] = [
  ...[stepCue, rampCue, approachCue, trapezoidCue, sCurveCue, minimumJerkCue],
  ...[sineCue, sweepCue, tableCue, switchCue],
  changeCue,
  ...[pushCue, twistCue, impulseCue, gustCue],
  failureCue,
  ...faults,
  touchCue,
]

/** The cues of a trial with their times: those that wait for a condition come when `came` says, or never. */
export function playedCues(trial: Part, keep: Remember, came?: CameAt): readonly PlayedCue[] {
  return played(trial, keep, came, cues)
}
