import { approachCue } from './approachCue'
import { minimumJerkCue } from './minimumJerkCue'
import { rampCue } from './rampCue'
import { sCurveCue } from './sCurveCue'
import { sineCue } from './sineCue'
import { stepCue } from './stepCue'
import { switchCue } from './switchCue'
import { sweepCue } from './sweepCue'
import { tableCue } from './tableCue'
import { trapezoidCue } from './trapezoidCue'
import type { Cue } from './cue'

export type { Cue, ReadCue } from './cue'

/** In the order people see. */
export const cues: readonly Cue[] = [
  ...[stepCue, rampCue, approachCue, trapezoidCue, sCurveCue, minimumJerkCue],
  ...[sineCue, sweepCue, tableCue, switchCue],
]
