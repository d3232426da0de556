import { add } from '../../../expression'
import type { Scalar } from '../../../expression'
import { name } from '../../../kinds'
import type { Slots } from '../../../kinds'
import { cueSlots, defineCue, fade } from '../cue'
import type { Cue } from '../cue'

/** Slots that faults of signals share. */
export const faultSlots = {
  at: cueSlots.at,
  signal: name({ label: 'signal', of: 'altered' }),
  over: fade,
} as const

/** Something that goes wrong with a signal between the one that gives it and those who read it. It has come once it acts wholly. */
export function defineFault<const S extends Slots>(kind: Omit<Cue<S>, 'lane' | 'ends'>): Cue<S> {
  const come = (read: (path: string) => Scalar) => ('over' in kind.slots ? add(read('at'), read('over')) : read('at'))
  return defineCue({ ...kind, lane: 'faults', ends: come })
}
