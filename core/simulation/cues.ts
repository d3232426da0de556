import { atMost, clamp, div, mul, select, sub } from '../expression'
import type { Scalar } from '../expression'
import { name, number } from '../kinds'
import type { Kind } from '../kinds'

/** Something that happens at a time: here, a command to a loop. Cues of one loop add up. */
export interface Cue extends Kind {
  /** What the cue adds to the reference at time t. */
  readonly value: (t: Scalar, read: (slot: string) => Scalar) => Scalar
  /** s: when it is over, from the numbers of the document. */
  readonly ends: (read: (slot: string) => number) => number
}

export const stepCue: Cue = {
  name: 'stepCue',
  says: 'At {at}, {loop} is asked to rise by {by} at once.',
  about: 'The reference of the loop steps by this much.',
  slots: {
    loop: name({ label: 'loop', of: 'loop' }),
    at: number({ label: 'time', unit: 's', least: 0, most: 1e5 }),
    by: number({ label: 'step', unit: '' }),
  },
  value: (t, read) => select(atMost(read('at'), t), read('by'), 0),
  ends: (read) => read('at'),
}

export const rampCue: Cue = {
  name: 'rampCue',
  says: 'From {at}, {loop} is asked to rise by {by} over {over}.',
  about: 'The reference of the loop goes by this much along a straight line.',
  slots: {
    loop: name({ label: 'loop', of: 'loop' }),
    at: number({ label: 'time', unit: 's', least: 0, most: 1e5 }),
    by: number({ label: 'rise', unit: '' }),
    over: number({ label: 'duration', unit: 's', above: 0, most: 1e5 }),
  },
  value: (t, read) => mul(read('by'), clamp(div(sub(t, read('at')), read('over')), 0, 1)),
  ends: (read) => read('at') + read('over'),
}

export const cues: readonly Cue[] = [stepCue, rampCue]
