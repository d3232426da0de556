import { add, assign, call, copy, mul, sub, sum } from '../expression'
import type { Procedure, Scalar, Statement } from '../expression'
import { controlledSteps, stepSlots } from './controlled'
import type { ControlledSteps, StepControl } from './controlled'
import { each } from './integrate'
import type { Equation } from './integrate'
import { slotOf } from './layout'
import type { Layout } from './layout'

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

/** `advance` with Dormand and Prince's embedded pair of orders 5 and 4; between steps, dense output of order 4. */
export function adaptiveSteps(
  layout: Layout,
  equation: Equation,
  control: StepControl,
  lands: 'onTarget' | 'between',
): ControlledSteps {
  const { x, stage, stageTime, slope } = equation
  const n = x.length
  const slots = stepSlots(layout, n)
  const { h, from, start, end } = slots
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
  const step: Procedure = { name: 'adaptiveStep', body: stages }
  const method = {
    errorPower: 5,
    procedures: [step],
    begin: [assign([...each(stage, (i) => start[i]!), { slot: slotOf(stageTime), value: from }]), call('derivative'), keep(0)],
    tries: [call('adaptiveStep')],
    error: (i: number) => mul(h, combination(dormandPrince.e, i)),
    goesOn: [copy(slotOf(k[6]![0]!), n, slotOf(k[0]![0]!))], // first same as last
    between: (share: Scalar) =>
      each(x, (i) => {
        const rise = sub(end[i]!, start[i]!)
        const bend = sub(mul(h, k[0]![i]!), rise)
        const last = sub(sub(rise, mul(h, k[6]![i]!)), bend)
        const extra = mul(h, combination(dormandPrince.d, i))
        const rest = sub(1, share)
        return add(start[i]!, mul(share, add(rise, mul(rest, add(bend, mul(share, add(last, mul(rest, extra))))))))
      }),
  }
  return controlledSteps(layout, equation, slots, method, control, lands)
}
