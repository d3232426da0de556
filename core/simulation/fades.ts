import { abs, add, derivatives, div, everySlot, exp, less, mul, select, sub } from '../expression'
import type { Assignment, NumberNode, Scalar } from '../expression'
import type { Equation, Fade } from './integrate'
import { slotOf } from './layout'
import type { Layout } from './layout'

export interface Fades {
  /** By the number of the state. */
  readonly fades: ReadonlyMap<number, Fade>
  /** To be computed once the length of steps is known. */
  readonly first: readonly Assignment[]
}

export const noFades: Fades = { fades: new Map(), first: [] }

/**
 * States that fade by themselves, as the lag of a drive does whose command is held: x' = d (x - where it goes), where d and
 * that are constant during a step. They need no approximation: x(t + h) = x(t) + h phi(d h) x'(t), phi(z) = (e^z - 1)/z.
 */
export function fadesOf(
  layout: Layout,
  { stage, stageTime }: Equation,
  rates: readonly Scalar[],
  h: Scalar,
  isConstant: (slot: number) => boolean,
): Fades {
  const moving = new Set([...stage, stageTime].map(slotOf))
  const fades = new Map<number, Fade>()
  const first: Assignment[] = []
  rates.forEach((rate, i) => {
    const own = slotOf(stage[i]!)
    if (!everySlot(rate, (slot) => slot === own || !moving.has(slot))) return
    const slope = derivatives([rate], own)[0]!
    if (!everySlot(slope, isConstant)) return
    const [half, whole] = layout.many(2) as [NumberNode, NumberNode]
    const goes = (length: Scalar) => mul(length, grown(mul(slope, length)))
    first.push({ slot: slotOf(half), value: goes(mul(h, 0.5)) }, { slot: slotOf(whole), value: goes(h) })
    fades.set(i, { half, whole })
  })
  return { fades, first }
}

/** (e^z - 1)/z, by its series near 0. */
function grown(z: Scalar): Scalar {
  const series = add(1, mul(z, add(1 / 2, mul(z, add(1 / 6, mul(z, 1 / 24))))))
  return select(less(abs(z), 1e-3), series, div(sub(exp(z), 1), z))
}
