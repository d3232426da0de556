import { add, assign, call, mul } from '../expression'
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

/** How far a state that fades goes in half a step and in a whole one, s for each unit of its rate where the step began. */
export interface Fade {
  readonly half: NumberNode
  readonly whole: NumberNode
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

/** One value for each slot. */
export function each(targets: readonly NumberNode[], value: (i: number) => Scalar): { slot: number; value: Scalar }[] {
  return targets.map((target, i) => ({ slot: slotOf(target), value: value(i) }))
}

/**
 * `rk4`: one step of length h with the classic Runge-Kutta method of order 4.
 *   k1 = f(t, x), k2 = f(t + h/2, x + h k1/2), k3 = f(t + h/2, x + h k2/2), k4 = f(t + h, x + h k3)
 *   x+ = x + h (k1 + 2 k2 + 2 k3 + k4)/6
 * Hairer, Nørsett & Wanner, Solving Ordinary Differential Equations I, 2nd ed., table II.1.2 (from memory).
 * States with a fade go where that takes them, exactly: of one, x(t + h/2) and x(t + h) follow from k1.
 */
export function rungeKutta4(
  layout: Layout,
  { x, t, stage, stageTime, slope }: Equation,
  h: Scalar,
  fades: ReadonlyMap<number, Fade> = new Map(),
): Procedure {
  const total = layout.many(x.length)
  const half = mul(h, 0.5)
  const next = (share: Scalar, weight: number, at: Scalar, first = false): Statement =>
    assign([
      ...each(stage, (i) => {
        const fade = fades.get(i)
        if (fade === undefined) return add(x[i]!, mul(share, slope[i]!))
        return share === h ? total[i]! : first ? add(x[i]!, mul(fade.half, slope[i]!)) : stage[i]!
      }),
      ...each(total, (i) => {
        const fade = fades.get(i)
        if (fade === undefined) return add(first ? x[i]! : total[i]!, mul(mul(h, weight), slope[i]!))
        return first ? add(x[i]!, mul(fade.whole, slope[i]!)) : total[i]!
      }),
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
    assign([
      ...each(x, (i) => (fades.has(i) ? total[i]! : add(total[i]!, mul(mul(h, 1 / 6), slope[i]!)))),
      { slot: slotOf(t), value: add(t, h) },
    ]),
  ]
  return { name: 'rk4', body }
}
