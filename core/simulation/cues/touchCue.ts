import { choice, name, table } from '../../kinds'
import type { Part } from '../../document'
import { risingProblemsAt } from '../../machine'
import { cueSlots } from './cue'
import type { Cue } from './cue'

const rowsOf = (points: unknown) => points as readonly (readonly [since: number, to: number, over: number])[]

/** A touch of a hand, as it was kept when a trial was taken by hand. It lengthens no trial, and waits for nothing. */
export const touchCue = {
  name: 'touchCue',
  label: 'touch of a hand',
  lane: 'hands',
  says: 'From {at}, {hand} is moved {axis} as in {points}.',
  about:
    'What a person did with a hand: where it was moved to, and how long its whole way takes. The run with it is the same as that by hand, to the last bit.',
  slots: {
    hand: name({ label: 'hand', of: 'hand' }),
    axis: choice({ label: 'axis', options: { across: 'across', up: 'up' }, otherwise: 'up' }),
    at: cueSlots.at,
    points: table({
      label: 'course',
      columns: [
        { label: 'time since', unit: 's' },
        { label: 'to', unit: '' },
        { label: 'whole way in', unit: 's' },
      ],
      fill: [
        [0, 1, 0.2],
        [1, 0, 0.2],
      ],
    }),
  },
  ends: (read) => read('at'),
  problems: (where, { points }) => risingProblemsAt(where, rowsOf(points), 'points', 1),
} as const satisfies Cue

/** One row of a touch. */
export interface Touched {
  readonly hand: string
  readonly axis: 'across' | 'up'
  /** s */
  readonly at: number
  readonly to: number
  readonly over: number
}

/** What the touches of a trial do, in time. */
export function touchesIn(cues: Readonly<Record<string, Part>>): readonly Touched[] {
  return Object.values(cues)
    .filter(({ kind }) => kind === touchCue.name)
    .flatMap((cue) =>
      rowsOf(cue.points).map(([since, to, over]) => ({
        ...{ hand: cue.hand as string, axis: cue.axis === 'across' ? ('across' as const) : ('up' as const) },
        ...{ at: (cue.at as number) + since, to, over },
      })),
    )
    .sort((a, b) => a.at - b.at)
}
