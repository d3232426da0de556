import {
  abs,
  add,
  and,
  assign,
  atMost,
  clamp,
  copy,
  div,
  less,
  max,
  min,
  mul,
  not,
  pow,
  repeatWhile,
  select,
  set,
  sqrt,
  square,
  sub,
  sum,
  when,
} from '../expression'
import type { NumberNode, Procedure, Scalar, Statement } from '../expression'
import { each } from './integrate'
import type { Equation } from './integrate'
import { slotOf } from './layout'
import type { Layout } from './layout'

export interface StepControl {
  readonly relativeTolerance: Scalar
  readonly absoluteTolerance: Scalar
  /** s, the longest step */
  readonly longest: Scalar
  /** Steps of one call; without end where it is not said. */
  readonly mostSteps?: number
}

export interface ControlledSlots {
  /** Where to be after the call, s. */
  readonly target: NumberNode
  /** The next step tried, s; to be set before the first call. */
  readonly next: NumberNode
  /** 1 when steps became too short to go on, 2 when there were too many. */
  readonly stuck: NumberNode
  readonly accepted: NumberNode
  readonly rejected: NumberNode
}

export interface ControlledSteps {
  readonly procedures: readonly Procedure[]
  readonly slots: ControlledSlots
}

/** What one step goes from and to. */
export interface StepSlots {
  /** Length of the step, s. */
  readonly h: NumberNode
  /** Where it begins, s. */
  readonly from: NumberNode
  readonly start: readonly NumberNode[]
  readonly end: readonly NumberNode[]
}

/** A method of one step with an estimate of its error. */
export interface StepMethod {
  /** The error grows with this power of the step. */
  readonly errorPower: number
  readonly procedures: readonly Procedure[]
  /** What it wants to know at the start, where nothing is known from the step before. */
  readonly begin: readonly Statement[]
  /** Fills the end. */
  readonly tries: readonly Statement[]
  /** The estimated error of state i. */
  readonly error: (i: number) => Scalar
  /** The same as `begin` from what is known of the end of the step before, which is the start now. */
  readonly goesOn: readonly Statement[]
  /** States within the step, at a share of it from 0 to 1. */
  readonly between?: (share: Scalar) => { slot: number; value: Scalar }[]
}

/** A step this much shorter than the time cannot be told from none. */
const shortestShare = 1e-14
/** What is kept of a run that takes more steps than it may: something jumps to and fro without end. */
export const endlessly = 2

export function stepSlots(layout: Layout, states: number): StepSlots {
  return { h: layout.one(), from: layout.one(), start: layout.many(states), end: layout.many(states) }
}

/**
 * `advance`: brings x and t to `target` with steps as long as the tolerances allow. With `lands: 'onTarget'` every call
 * ends a step exactly there, as inputs that jump at samples demand; with 'between' steps run past targets and x is read
 * from within the last one.
 */
export function controlledSteps(
  layout: Layout,
  { x, t }: Equation,
  { h, from, start, end }: StepSlots,
  method: StepMethod,
  control: StepControl,
  lands: 'onTarget' | 'between',
): ControlledSteps {
  const n = x.length
  const slots: ControlledSlots = {
    target: layout.one(),
    next: layout.one(),
    stuck: layout.one(),
    accepted: layout.one(),
    rejected: layout.one(),
  }
  const [error, to, started, tries] = layout.many(4) as [NumberNode, NumberNode, NumberNode, NumberNode]
  const scaledError = (i: number) => {
    const size = add(control.absoluteTolerance, mul(control.relativeTolerance, max(abs(start[i]!), abs(end[i]!))))
    return square(div(method.error(i), size))
  }
  // 0.9, 0.2 and 5: safety, least and most change of a step, as Hairer recommends
  const factor = clamp(mul(0.9, pow(max(error, 1e-10), -1 / method.errorPower)), 0.2, 5)
  const within = and(atMost(error, 1), not(less(error, 0)))
  const limited = (wanted: Scalar) => min(wanted, control.longest)
  const room = sub(slots.target, to)
  const tryOne = [
    set(slotOf(tries), add(tries, 1)),
    set(slotOf(h), lands === 'onTarget' ? min(limited(slots.next), room) : limited(slots.next)),
    ...method.tries,
    set(slotOf(error), sqrt(div(sum(x.map((_, i) => scaledError(i))), n))),
    when(
      within,
      [
        assign([
          { slot: slotOf(to), value: lands === 'onTarget' ? select(atMost(room, h), slots.target, add(from, h)) : add(from, h) },
          { slot: slotOf(slots.next), value: select(less(h, slots.next), max(slots.next, mul(h, factor)), mul(h, factor)) },
          { slot: slotOf(slots.accepted), value: add(slots.accepted, 1) },
        ]),
      ],
      [
        assign([
          // an error that is not a number shortens the step like a very large one
          { slot: slotOf(slots.next), value: mul(h, select(atMost(error, 1e300), min(factor, 0.9), 0.2)) },
          { slot: slotOf(slots.rejected), value: add(slots.rejected, 1) },
        ]),
      ],
    ),
    // a step too short to move time on, tried or accepted, never ends
    when(less(slots.next, mul(shortestShare, max(abs(from), 1e-3))), [set(slotOf(slots.stuck), 1)]),
    ...(control.mostSteps === undefined ? [] : [when(less(control.mostSteps, tries), [set(slotOf(slots.stuck), endlessly)])]),
  ]
  const moveOn = [copy(slotOf(end[0]!), n, slotOf(start[0]!)), set(slotOf(from), to)]
  const begin = [
    assign([
      ...each(start, (i) => x[i]!),
      { slot: slotOf(from), value: t },
      { slot: slotOf(to), value: t },
      { slot: slotOf(started), value: 1 },
    ]),
    ...method.begin,
  ]
  const goOn = and(less(to, slots.target), less(slots.stuck, 1))
  const share = select(less(0, h), div(sub(slots.target, from), h), 0)
  const advance: Procedure =
    lands === 'onTarget'
      ? {
          name: 'advance',
          body: [
            set(slotOf(tries), 0),
            ...begin,
            repeatWhile(goOn, [...tryOne, when(less(from, to), [...moveOn, when(less(to, slots.target), [...method.goesOn])])]),
            assign([...each(x, (i) => start[i]!), { slot: slotOf(t), value: slots.target }]),
          ],
        }
      : {
          name: 'advance',
          body: [
            set(slotOf(tries), 0),
            when(less(started, 1), begin),
            repeatWhile(goOn, [when(less(from, to), [...moveOn, ...method.goesOn]), ...tryOne]),
            assign([...method.between!(share), { slot: slotOf(t), value: slots.target }]),
          ],
        }
  return { procedures: [...method.procedures, advance], slots }
}
