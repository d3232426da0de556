import { add, assign, call, copy, div, isNode, jacobian, mul, neg, sub, sum } from '../expression'
import type { Assignment, NumberNode, Procedure, Scalar, Statement } from '../expression'
import { controlledSteps, stepSlots } from './controlled'
import type { ControlledSteps, StepControl } from './controlled'
import { each } from './integrate'
import type { Equation } from './integrate'
import { slotOf } from './layout'
import type { Layout } from './layout'

/**
 * RODAS, a Rosenbrock method of order 4 with one of order 3 inside, both L-stable and stiffly accurate: every step solves
 * six linear systems with one matrix, and damps what is too fast for it. Hairer & Wanner, Solving ODEs II, IV.7, in the
 * form without products by the Jacobian (from memory; tests measure its orders and its damping).
 */
export const rodas = {
  gamma: 0.25,
  /** Where the stages lie in the step, and what each takes of the slope by time. */
  alpha: [0, 0.386, 0.21, 0.63, 1, 1],
  time: [0.25, -0.1043, 0.1035, -0.0362, 0, 0],
  a: [
    [],
    [1.544],
    [0.9466785280815826, 0.2557011698983284],
    [3.314825187068521, 2.896124015972201, 0.9986419139977817],
    [1.221224509226641, 6.019134481288629, 12.53708332932087, -0.687886036105895],
    [1.221224509226641, 6.019134481288629, 12.53708332932087, -0.687886036105895, 1],
  ],
  c: [
    [],
    [-5.6688],
    [-2.430093356833875, -0.2063599157091915],
    [-0.1073529058151375, -9.594562251023355, -20.47028614809616],
    [7.496443313967647, -10.24680431464352, -33.99990352819905, 11.7089089320616],
    [8.083246795921522, -7.981132988064893, -31.52159432874371, 16.31930543123136, -6.058818238834054],
  ],
} as const

/** Partial derivatives of the slopes by the states, and by time: numbers where they never change, slots elsewhere. */
export interface Slopes {
  readonly byState: readonly (readonly Scalar[])[]
  readonly byTime: readonly Scalar[]
  /** Fills the slots; to be done by a procedure named `jacobian`, from stage and stageTime. */
  readonly values: readonly Assignment[]
}

/** The exact derivatives of rates that are written in an equation's stage and stageTime. */
export function slopesOf(layout: Layout, { stage, stageTime }: Equation, rates: readonly Scalar[]): Slopes {
  const values: Assignment[] = []
  const kept = jacobian(rates, [...stage, stageTime].map(slotOf)).map((row) =>
    row.map((entry) => {
      if (!isNode(entry)) return entry
      const node = layout.one()
      values.push({ slot: slotOf(node), value: entry })
      return node
    }),
  )
  return { byState: kept.map((row) => row.slice(0, -1)), byTime: kept.map((row) => row.at(-1)!), values }
}

/** `advance` with the method above, for equations with modes far faster than what is looked at. */
export function implicitSteps(layout: Layout, equation: Equation, slopes: Slopes, control: StepControl): ControlledSteps {
  const { x, stage, stageTime, slope } = equation
  const n = x.length
  const slots = stepSlots(layout, n)
  const { h, from, start, end } = slots
  const u = rodas.a.map(() => layout.many(n))
  const [right, solution] = [layout.many(n), layout.many(n)]
  const combination = (weights: readonly number[], i: number): Scalar => sum(weights.map((weight, j) => mul(weight, u[j]![i]!)))
  const stages = rodas.a.flatMap((row, s): Statement[] => [
    assign([
      ...each(stage, (i) => add(start[i]!, combination(row, i))),
      { slot: slotOf(stageTime), value: add(from, mul(rodas.alpha[s]!, h)) },
    ]),
    call('derivative'),
    assign(
      each(right, (i) =>
        add(add(slope[i]!, div(combination(rodas.c[s]!, i), h)), mul(mul(rodas.time[s]!, h), slopes.byTime[i]!)),
      ),
    ),
    call('solve'),
    copy(slotOf(solution[0]!), n, slotOf(u[s]![0]!)),
  ])
  const last = rodas.a.at(-1)!
  const step: Procedure = {
    name: 'implicitStep',
    body: [call('factor'), ...stages, assign(each(end, (i) => add(add(start[i]!, combination(last, i)), u[5]![i]!)))],
  }
  const here = [assign([...each(stage, (i) => start[i]!), { slot: slotOf(stageTime), value: from }]), call('jacobian')]
  const method = {
    errorPower: 4,
    procedures: [...linearSolver(layout, shifted(slopes.byState, div(1, mul(rodas.gamma, h))), right, solution), step],
    begin: here,
    tries: [call('implicitStep')],
    error: (i: number): Scalar => u[5]![i]!,
    goesOn: here,
  }
  return controlledSteps(layout, equation, slots, method, control, 'onTarget')
}

/** d I - J */
function shifted(rows: readonly (readonly Scalar[])[], d: Scalar): Scalar[][] {
  return rows.map((row, i) => row.map((entry, j) => (i === j ? sub(d, entry) : neg(entry))))
}

/**
 * `factor` takes a matrix apart into triangles, `solve` brings the right side through them. Pivots stand on the diagonal,
 * as for a short step they may: a step for which they may not has an error that is seen, and is shortened. What is 0 by
 * structure takes no time.
 */
function linearSolver(
  layout: Layout,
  matrix: readonly (readonly Scalar[])[],
  right: readonly NumberNode[],
  solution: readonly NumberNode[],
): Procedure[] {
  const n = matrix.length
  const rows = matrix.map((row) => [...row])
  const inverse: Scalar[] = []
  for (let k = 0; k < n; k++) {
    inverse.push(div(1, rows[k]![k]!))
    for (let i = k + 1; i < n; i++) {
      if (rows[i]![k] === 0) continue
      const share = mul(rows[i]![k]!, inverse[k]!)
      rows[i]![k] = share
      for (let j = k + 1; j < n; j++) rows[i]![j] = sub(rows[i]![j]!, mul(share, rows[k]![j]!))
    }
  }
  const values: Assignment[] = []
  const kept = (value: Scalar): Scalar => {
    if (!isNode(value)) return value
    const node = layout.one()
    values.push({ slot: slotOf(node), value })
    return node
  }
  const triangles = rows.map((row, i) => row.map((entry, j) => (i === j ? kept(inverse[i]!) : kept(entry))))
  const forward: Scalar[] = []
  for (let i = 0; i < n; i++) forward.push(forward.reduce((rest, one, j) => sub(rest, mul(triangles[i]![j]!, one)), right[i]!))
  const back: Scalar[] = new Array<Scalar>(n)
  for (let i = n - 1; i >= 0; i--) {
    const rest = back.slice(i + 1).reduce((left, one, j) => sub(left, mul(triangles[i]![i + 1 + j]!, one)), forward[i]!)
    back[i] = mul(rest, triangles[i]![i]!)
  }
  return [
    { name: 'factor', body: [assign(values)] },
    { name: 'solve', body: [assign(each(solution, (i) => back[i]!))] },
  ]
}
