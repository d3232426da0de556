import { call, equal, less, min, not, or, select, set, when } from '../expression'
import type { Assignment, Flag, NumberNode, Scalar, Statement } from '../expression'
import type { Read } from '../machine'
import { slotOf } from './layout'
import type { Layout } from './layout'

/** The procedure that works out what is driven. */
export const driveBlock = 'drive'

/** What cues do to numbers of the simulated machine over time. */
export interface Drives {
  /** By the path of the number: its value at a time, s. */
  readonly numbers: ReadonlyMap<string, (t: Scalar) => Scalar>
  /** s: the first time after another at which one of them jumps or bends. */
  readonly bendAfter: (t: Scalar) => Scalar
  /** Whether any of them changes from there to the next bend. */
  readonly movesAt: (t: Scalar) => Flag
}

/** Numbers of the machine that cues change, kept in memory: worked out anew where they may have changed, and nowhere else. */
export interface Driven {
  readonly read: Read
  /** Where they are kept. */
  readonly slots: ReadonlySet<number>
  /** What `drive` works out. */
  readonly values: readonly Assignment[]
  /** s: the next bend after the time at which they last arrived. */
  readonly next: NumberNode
  /** Brings them to a time, s, between steps. */
  readonly arrive: (t: Scalar) => readonly Statement[]
  /** Within steps, before each derivative. */
  readonly along: (t: Scalar) => readonly Statement[]
  /** What makes them be worked out anew wherever they are next asked for. */
  readonly stale: Assignment
  readonly initial: readonly Assignment[]
}

/** `truth` reads the numbers that nothing changes. `last`: s, the last instant before a step may meet a bend. */
export function drivenNumbers(layout: Layout, { numbers, bendAfter, movesAt }: Drives, truth: Read, last: NumberNode): Driven {
  const [now, moving, next, seen] = layout.many(4) as [NumberNode, NumberNode, NumberNode, NumberNode]
  const nodes = new Map([...numbers.keys()].map((path) => [path, layout.one()]))
  return {
    read: (path) => nodes.get(path) ?? truth(path),
    next,
    slots: new Set([...nodes.values()].map(slotOf)),
    values: [...numbers].map(([path, value]) => ({ slot: slotOf(nodes.get(path)!), value: value(now) })),
    arrive: (t) => [
      set(slotOf(next), bendAfter(t)),
      when(or(less(0.5, moving), not(equal(next, seen))), [
        set(slotOf(now), t),
        call(driveBlock),
        set(slotOf(moving), select(movesAt(t), 1, 0)),
        set(slotOf(seen), next),
      ]),
    ],
    along: (t) => [when(less(0.5, moving), [set(slotOf(now), min(t, last)), call(driveBlock)])],
    stale: { slot: slotOf(seen), value: -1 },
    initial: [
      { slot: slotOf(seen), value: -1 },
      { slot: slotOf(moving), value: 0 },
    ],
  }
}
