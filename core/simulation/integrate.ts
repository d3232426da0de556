import {
  abs,
  add,
  and,
  atMost,
  assign,
  call,
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
import { slotOf } from './layout'
import type { Layout } from './layout'

/** A differential equation in a program's memory: procedure `derivative` reads stage and stageTime and writes slope. */
export interface Equation {
  readonly x: readonly NumberNode[]
  readonly t: NumberNode
  readonly stage: readonly NumberNode[]
  readonly stageTime: NumberNode
  readonly slope: readonly NumberNode[]
}

export function equationSlots(layout: Layout, states: number): Equation {
  return {
    x: layout.many(states),
    t: layout.one(),
    stage: layout.many(states),
    stageTime: layout.one(),
    slope: layout.many(states),
  }
}

function each(targets: readonly NumberNode[], value: (i: number) => Scalar): { slot: number; value: Scalar }[] {
  return targets.map((target, i) => ({ slot: slotOf(target), value: value(i) }))
}

/**
 * `rk4`: one step of length h with the classic Runge-Kutta method of order 4.
 *   k1 = f(t, x), k2 = f(t + h/2, x + h k1/2), k3 = f(t + h/2, x + h k2/2), k4 = f(t + h, x + h k3)
 *   x+ = x + h (k1 + 2 k2 + 2 k3 + k4)/6
 * Hairer, Nørsett & Wanner, Solving Ordinary Differential Equations I, 2nd ed., table II.1.2 (from memory).
 */
export function rungeKutta4(layout: Layout, { x, t, stage, stageTime, slope }: Equation, h: Scalar): Procedure {
  const total = layout.many(x.length)
  const half = mul(h, 0.5)
  const next = (share: Scalar, weight: number, at: Scalar, first = false): Statement =>
    assign([
      ...each(stage, (i) => add(x[i]!, mul(share, slope[i]!))),
      ...each(total, (i) => add(first ? x[i]! : total[i]!, mul(mul(h, weight), slope[i]!))),
      { slot: slotOf(stageTime), value: at },
    ])
  const body = [
    assign([...each(stage, (i) => x[i]!), { slot: slotOf(stageTime), value: t }]),
    call('derivative'),
    next(half, 1 / 6, add(t, half), true),
    call('derivative'),
    next(half, 1 / 3, add(t, half)),
    call('derivative'),
    next(h, 1 / 3, add(t, h)),
    call('derivative'),
    assign([...each(x, (i) => add(total[i]!, mul(mul(h, 1 / 6), slope[i]!))), { slot: slotOf(t), value: add(t, h) }]),
  ]
  return { name: 'rk4', body }
}

/** Dormand & Prince 1980; Hairer, Nørsett & Wanner, Solving ODEs I, table II.5.2 (from memory; a test re-derives the order). */
export const dormandPrince = {
  c: [0, 1 / 5, 3 / 10, 4 / 5, 8 / 9, 1, 1],
  a: [
    [],
    [1 / 5],
    [3 / 40, 9 / 40],
    [44 / 45, -56 / 15, 32 / 9],
    [19372 / 6561, -25360 / 2187, 64448 / 6561, -212 / 729],
    [9017 / 3168, -355 / 33, 46732 / 5247, 49 / 176, -5103 / 18656],
    [35 / 384, 0, 500 / 1113, 125 / 192, -2187 / 6784, 11 / 84],
  ],
  /** Weights of order 5 less those of order 4. */
  e: [71 / 57600, 0, -71 / 16695, 71 / 1920, -17253 / 339200, 22 / 525, -1 / 40],
  /** Shampine's dense output as in Hairer's DOPRI5 (from memory; a test measures its order). */
  d: [
    -12715105075 / 11282082432,
    0,
    87487479700 / 32700410799,
    -10690763975 / 1880347072,
    701980252875 / 199316789632,
    -1453857185 / 822651844,
    69997945 / 29380423,
  ],
} as const

export interface AdaptiveControl {
  readonly relativeTolerance: Scalar
  readonly absoluteTolerance: Scalar
  /** s, the longest step */
  readonly longest: Scalar
}

export interface AdaptiveSlots {
  /** Where to be after the call, s. */
  readonly target: NumberNode
  /** The next step tried, s; to be set before the first call. */
  readonly next: NumberNode
  /** 1 when steps became too short to go on. */
  readonly stuck: NumberNode
  readonly accepted: NumberNode
  readonly rejected: NumberNode
}

/** A step shorter than this share of the time cannot be told from none. */
const shortestShare = 1e-14

/**
 * `advance`: brings x and t to `target` with Dormand and Prince's embedded pair of orders 5 and 4. With
 * `lands: 'onTarget'` every call ends a step exactly there, as inputs that jump at samples demand; with 'between'
 * steps run past targets and x is read from the dense output of order 4.
 */
export function adaptiveSteps(
  layout: Layout,
  equation: Equation,
  control: AdaptiveControl,
  lands: 'onTarget' | 'between',
): { procedures: Procedure[]; slots: AdaptiveSlots } {
  const { x, t, stage, stageTime, slope } = equation
  const n = x.length
  const slots: AdaptiveSlots = {
    target: layout.one(),
    next: layout.one(),
    stuck: layout.one(),
    accepted: layout.one(),
    rejected: layout.one(),
  }
  const [h, error, from, to, started] = layout.many(5) as [NumberNode, NumberNode, NumberNode, NumberNode, NumberNode]
  const start = layout.many(n)
  const end = layout.many(n)
  const k = Array.from({ length: 7 }, () => layout.many(n))
  const keep = (i: number): Statement => copy(slotOf(slope[0]!), n, slotOf(k[i]![0]!))
  const combination = (weights: readonly number[], i: number): Scalar => sum(weights.map((weight, j) => mul(weight, k[j]![i]!)))

  const stages = dormandPrince.a
    .slice(1)
    .flatMap((row, s): Statement[] => [
      assign([
        ...each(stage, (i) => add(start[i]!, mul(h, combination(row, i)))),
        { slot: slotOf(stageTime), value: add(from, mul(dormandPrince.c[s + 1]!, h)) },
      ]),
      ...(s === 5 ? [copy(slotOf(stage[0]!), n, slotOf(end[0]!))] : []),
      call('derivative'),
      keep(s + 1),
    ])
  const scaledError = (i: number) => {
    const size = add(control.absoluteTolerance, mul(control.relativeTolerance, max(abs(start[i]!), abs(end[i]!))))
    return square(div(mul(h, combination(dormandPrince.e, i)), size))
  }
  const step: Procedure = {
    name: 'adaptiveStep',
    body: [...stages, set(slotOf(error), sqrt(div(sum(x.map((_, i) => scaledError(i))), n)))],
  }

  const firstSlope = [
    assign([...each(stage, (i) => start[i]!), { slot: slotOf(stageTime), value: from }]),
    call('derivative'),
    keep(0),
  ]
  // 0.9, 0.2 and 5: safety, least and most change of a step, as Hairer recommends
  const factor = clamp(mul(0.9, pow(max(error, 1e-10), -0.2)), 0.2, 5)
  const within = and(atMost(error, 1), not(less(error, 0)))
  const limited = (wanted: Scalar) => min(wanted, control.longest)
  const room = sub(slots.target, to)
  const tryOne = [
    set(slotOf(h), lands === 'onTarget' ? min(limited(slots.next), room) : limited(slots.next)),
    call('adaptiveStep'),
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
  ]
  const moveOn = [
    copy(slotOf(end[0]!), n, slotOf(start[0]!)),
    set(slotOf(from), to),
    copy(slotOf(k[6]![0]!), n, slotOf(k[0]![0]!)), // first same as last
  ]
  const begin = [
    assign([
      ...each(start, (i) => x[i]!),
      { slot: slotOf(from), value: t },
      { slot: slotOf(to), value: t },
      { slot: slotOf(started), value: 1 },
    ]),
    ...firstSlope,
  ]
  const goOn = and(less(to, slots.target), less(slots.stuck, 1))
  const theta = select(less(0, h), div(sub(slots.target, from), h), 0)
  const dense = each(x, (i) => {
    const rise = sub(end[i]!, start[i]!)
    const bend = sub(mul(h, k[0]![i]!), rise)
    const last = sub(sub(rise, mul(h, k[6]![i]!)), bend)
    const extra = mul(h, combination(dormandPrince.d, i))
    const rest = sub(1, theta)
    return add(start[i]!, mul(theta, add(rise, mul(rest, add(bend, mul(theta, add(last, mul(rest, extra))))))))
  })
  const advance: Procedure =
    lands === 'onTarget'
      ? {
          name: 'advance',
          body: [
            ...begin,
            repeatWhile(goOn, [...tryOne, when(less(from, to), moveOn)]),
            assign([...each(x, (i) => start[i]!), { slot: slotOf(t), value: slots.target }]),
          ],
        }
      : {
          name: 'advance',
          body: [
            when(less(started, 1), begin),
            repeatWhile(goOn, [when(less(from, to), moveOn), ...tryOne]),
            assign([...dense, { slot: slotOf(t), value: slots.target }]),
          ],
        }
  return { procedures: [step, advance], slots }
}
