import type { Flag, Scalar } from '../../expression'
import type { Problem } from '../../document'
import { choice } from '../../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'

export interface StopInputs {
  /** Values of the words that a condition may use, and of the command that would go out. */
  readonly lookup: (name: string) => Scalar
  /** What the loop reads of what it holds. */
  readonly reading: Scalar
  /** s */
  readonly dt: Scalar
}

/** Something that takes a loop's command away from its law for the rest of a run. */
export interface Stop<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  /** Whether it trips at this sample, and what it remembers: two numbers, 0 at the start. */
  readonly step: OfOwn<
    [inputs: StopInputs, memory: readonly Scalar[], part: PartOf<Kind<S>>],
    { readonly trips: Flag; readonly memory: readonly Scalar[] }
  >
  /** Names that its condition may use. */
  readonly formulaNames?: readonly string[]
  readonly problems?: OfOwn<[where: string, part: PartOf<Kind<S>>], readonly Problem[]>
}

export function defineStop<const S extends Slots>(kind: Stop<S>): Stop<S> {
  return kind
}

/** Numbers that every stop remembers. */
export const stopMemory = 2

/** What is commanded from then on. */
export const actionSlot = choice({
  label: 'then command',
  options: { rest: 'what holds it at rest', nothing: 'nothing', keep: 'what it last did' },
  otherwise: 'rest',
})
