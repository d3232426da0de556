import { name, number } from '../../kinds'
import type { Kind } from '../../kinds'
import type { Scalar } from '../../expression'
import type { Part, Problem } from '../../document'

/** Reads a number of a cue by its path inside the part: `by`, `points.0.1`. */
export type ReadCue<Value = Scalar> = (path: string) => Value

/** Something that happens at a time: here, a command to a loop or a move of a push of the machine. Cues of one of them add up. */
export interface Cue extends Kind {
  /** What people call it. */
  readonly label: string
  /** What the cue adds to the reference at time t, s; `cue` tells only what numbers cannot, such as how many rows there are. */
  readonly value: (t: Scalar, read: ReadCue, cue: Part) => Scalar
  /** s: when it is over, from the numbers of the document. */
  readonly ends: (read: ReadCue<number>, cue: Part) => number
  /** Of a cue that switches the feedback: whether on. */
  readonly switchesTo?: (cue: Part) => boolean
  /** What its schema cannot tell. */
  readonly problems?: (where: string, cue: Part) => readonly Problem[]
}

/** Slots that cues share. */
export const cueSlots = {
  loop: name({ label: 'loop or push', of: 'cued' }),
  at: number({ label: 'time', unit: 's', least: 0, most: 1e5 }),
  by: number({ label: 'rise', unit: '' }),
  over: number({ label: 'duration', unit: 's', above: 0, most: 1e5 }),
} as const
