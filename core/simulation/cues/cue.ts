import { name, number } from '../../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { Scalar } from '../../expression'
import type { Problem } from '../../document'

/** Reads a number of a cue by its path inside the part: `by`, `points.0.1`. */
export type ReadCue<Value = Scalar> = (path: string) => Value

/** Something that happens at a time: here, a command to a loop or a move of a push of the machine. Cues of one of them add up. */
export interface Cue<S extends Slots = Slots> extends Kind<S> {
  /** What people call it. */
  readonly label: string
  /** What the cue adds to the reference at time t, s; `cue` tells only what numbers cannot, such as how many rows there are. */
  readonly value: OfOwn<[t: Scalar, read: ReadCue, cue: PartOf<Kind<S>>], Scalar>
  /** s: when it is over, from the numbers of the document. */
  readonly ends: OfOwn<[read: ReadCue<number>, cue: PartOf<Kind<S>>], number>
  /** Of a cue that switches the feedback: whether on. */
  readonly switchesTo?: OfOwn<[cue: PartOf<Kind<S>>], boolean>
  /** What its schema cannot tell. */
  readonly problems?: OfOwn<[where: string, cue: PartOf<Kind<S>>], readonly Problem[]>
}

export function defineCue<const S extends Slots>(kind: Cue<S>): Cue<S> {
  return kind
}

/** Slots that cues share. */
export const cueSlots = {
  loop: name({ label: 'loop or push', of: 'cued' }),
  at: number({ label: 'time', unit: 's', least: 0, most: 1e5 }),
  by: number({ label: 'rise', unit: '' }),
  over: number({ label: 'duration', unit: 's', above: 0, most: 1e5 }),
} as const
