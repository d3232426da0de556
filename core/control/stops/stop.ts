import type { Flag, Scalar } from '../../expression'
import type { Part, Problem } from '../../document'
import { choice } from '../../kinds'
import type { Kind } from '../../kinds'

export interface StopInputs {
  /** Values of the words that a condition may use, and of the command that would go out. */
  readonly lookup: (name: string) => Scalar
  /** What the loop reads of what it holds. */
  readonly reading: Scalar
  /** s */
  readonly dt: Scalar
}

/** Something that takes a loop's command away from its law for the rest of a run. */
export interface Stop extends Kind {
  readonly label: string
  /** Whether it trips at this sample, and what it remembers: two numbers, 0 at the start. */
  readonly step: (
    inputs: StopInputs,
    memory: readonly Scalar[],
    part: Part,
  ) => { readonly trips: Flag; readonly memory: readonly Scalar[] }
  readonly problems?: (where: string, part: Part) => readonly Problem[]
}

/** Numbers that every stop remembers. */
export const stopMemory = 2

/** What is commanded from then on. */
export const actionSlot = choice({
  label: 'then command',
  options: { rest: 'what holds it at rest', nothing: 'nothing', keep: 'what it last did' },
  otherwise: 'rest',
})
