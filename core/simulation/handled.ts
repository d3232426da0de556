import { add, clamp, div, less, max, mul, select, sub } from '../expression'
import type { Assignment, NumberNode, Scalar } from '../expression'
import { partsIn } from '../document'
import type { Part } from '../document'
import { everyNumber, findKind } from '../kinds'
import { touchesIn } from './cues'
import { hands } from './hands'
import type { HandAxis } from './hands'
import { slotOf } from './layout'
import type { Layout } from './layout'

/** The procedure that takes hands on from tick to tick. */
export const handsBlock = 'hands'

/** Where memory of a program has what a hand does. */
export interface Channel {
  readonly hand: string
  readonly axis: HandAxis
  /** What is written when it is touched, and how much of what it was moved to. */
  readonly places: readonly { readonly slot: number; readonly size: number }[]
  /** s for its whole way; nothing where it is there at once. */
  readonly over?: number
}

/** A hand that is touched in a run. */
export interface Touch {
  readonly tick: number
  readonly hand: string
  readonly axis: HandAxis
  readonly to: number
  readonly over: number
}

/** What hands ask of a loop or push, and how fast that grows where they drive it. */
export interface HandAsked {
  readonly value: Scalar
  readonly rate: Scalar
}

/** The hands of a trial, in memory: moved from outside between ticks, and by nothing else. */
export class Handled {
  readonly values: Assignment[] = []
  readonly initial: Assignment[] = []
  private readonly moved: Channel[] = []
  private readonly asks = new Map<string, HandAsked>()
  private readonly aims = new Map<string, NumberNode>()
  private readonly parts: Readonly<Record<string, Part>>
  private readonly turned: ReadonlyMap<string, string>

  constructor(trial: Part) {
    this.parts = partsIn(trial.hands)
    const turns = Object.entries(this.parts).flatMap(([name, part]): [string, string][] => {
      const gain = findKind(hands, part)?.turns?.(part)
      return gain === undefined ? [] : [[gain, name]]
    })
    this.turned = new Map(turns)
  }

  /** Whether a hand turns a number of the program, which is then no constant. */
  turns(path: string): boolean {
    return this.turned.has(path)
  }

  /** Gives hands their places. `seconds`: from tick to tick. */
  lay(layout: Layout, keep: (path: string, value: number) => Scalar, seconds: number): void {
    for (const [name, part] of Object.entries(this.parts)) {
      const kind = findKind(hands, part)
      if (kind === undefined) continue
      const kept = new Map(everyNumber(hands, part).map(({ path, value }) => [path, keep(`hands.${name}.${path}`, value)]))
      if (kind.isPressed === true) this.aims.set(name, this.place(layout, name, 'up').aim)
      for (const [axis, { loop, by, how }] of Object.entries(kind.axes(part))) {
        const { aim, over } = this.place(layout, name, axis as HandAxis)
        const now = this.remembered(layout, (was) => {
          const step = div(seconds, max(over, shortest))
          return select(less(0, over), add(was, clamp(sub(aim, was), sub(0, step), step)), aim)
        })
        const asked = mul(now.next, kept.get(by)!)
        const driven = how === 'drives' ? this.remembered(layout, (was) => add(was, mul(asked, seconds))).node : undefined
        this.ask(
          loop,
          driven === undefined
            ? { value: mul(now.node, kept.get(by)!), rate: 0 }
            : { value: driven, rate: mul(now.node, kept.get(by)!) },
        )
      }
    }
  }

  private place(layout: Layout, hand: string, axis: HandAxis): { readonly aim: NumberNode; readonly over: NumberNode } {
    const [aim, over] = layout.many(2) as [NumberNode, NumberNode]
    for (const node of [aim, over]) this.initial.push({ slot: slotOf(node), value: 0 })
    this.moved.push({ hand, axis, places: [{ slot: slotOf(aim), size: 1 }], over: slotOf(over) })
    return { aim, over }
  }

  /** A value that goes on from tick to tick. */
  private remembered(layout: Layout, next: (was: NumberNode) => Scalar): { readonly node: NumberNode; readonly next: Scalar } {
    const node = layout.one()
    const value = next(node)
    this.initial.push({ slot: slotOf(node), value: 0 })
    this.values.push({ slot: slotOf(node), value })
    return { node, next: value }
  }

  private ask(loop: string, { value, rate }: HandAsked): void {
    const known = this.asks.get(loop) ?? { value: 0, rate: 0 }
    this.asks.set(loop, { value: add(known.value, value), rate: add(known.rate, rate) })
  }

  /** What hands ask of a loop, or of a push as cues name it. */
  asked(loop: string): HandAsked | undefined {
    return this.asks.get(loop)
  }

  /** What they ask anything of. */
  get asking(): readonly string[] {
    return [...this.asks.keys()]
  }

  /** Where a hand is that is pressed or not. */
  pressed(hand: string): Scalar {
    return this.aims.get(hand) ?? 0
  }

  /** Where each is moved, once all numbers of the program have their places; and gains that a hand turns and no loop has. */
  channels(parameters: readonly { readonly path: string; readonly slot: number; readonly value: number }[]): {
    readonly channels: readonly Channel[]
    readonly lost: readonly string[]
  } {
    const dials = [...this.turned].map(([gain, hand]): Channel => {
      const places = parameters.filter(({ path }) => path === gain).map(({ slot, value }) => ({ slot, size: value }))
      return { hand, axis: 'up', places }
    })
    return {
      channels: [...this.moved, ...dials],
      lost: dials.filter(({ places }) => places.length === 0).map(({ hand }) => hand),
    }
  }
}

/** s */
const shortest = 1e-9

/** The touches that a trial keeps, at the ticks at which they were made. */
export function touchesOf(trial: Part, rate: number): readonly Touch[] {
  return touchesIn(partsIn(trial.cues)).map(({ at, ...touched }) => ({ tick: Math.ceil(at * rate - slack), ...touched }))
}

/** ticks: rounding of times that are whole ticks. */
const slack = 1e-6
