import { describe, expect, it } from 'vitest'
import { Graph, add, assign, div, loadModule, mul, neg, pow, printWasm, sin, square, sub } from '../expression'
import type { NumberNode, Procedure, Scalar } from '../expression'
import { reference } from '../tests/reference'
import { Layout, adaptiveSteps, dormandPrince, equationSlots, rungeKutta4, slotOf } from './index'

type Rates = (x: readonly Scalar[], t: Scalar) => Scalar[]

function derivative(slope: readonly NumberNode[], rates: readonly Scalar[]): Procedure {
  return { name: 'derivative', body: [assign(slope.map((node, i) => ({ slot: slotOf(node), value: rates[i]! })))] }
}

function fixed(rates: Rates, start: readonly number[], h: number, steps: number): Float64Array {
  const layout = new Layout(new Graph())
  const equation = equationSlots(layout, start.length)
  const step = rungeKutta4(layout, equation, h)
  const module = loadModule(
    printWasm({ slots: layout.slots, procedures: [derivative(equation.slope, rates(equation.stage, equation.stageTime)), step] }),
  )
  const memory = module.memory()
  memory.set(start, slotOf(equation.x[0]!))
  for (let k = 0; k < steps; k++) module.call('rk4')
  return memory.slice(slotOf(equation.x[0]!), slotOf(equation.x[0]!) + start.length)
}

interface AdaptiveRun {
  readonly at: (target: number) => Float64Array
  readonly accepted: () => number
  readonly stuck: () => boolean
}

function adaptive(
  rates: Rates,
  start: readonly number[],
  tolerance: number,
  lands: 'onTarget' | 'between',
  longest = 1e9,
  first = 0.01,
): AdaptiveRun {
  const layout = new Layout(new Graph())
  const equation = equationSlots(layout, start.length)
  const { procedures, slots } = adaptiveSteps(
    layout,
    equation,
    { relativeTolerance: tolerance, absoluteTolerance: tolerance, longest },
    lands,
  )
  const module = loadModule(
    printWasm({
      slots: layout.slots,
      procedures: [derivative(equation.slope, rates(equation.stage, equation.stageTime)), ...procedures],
    }),
  )
  const memory = module.memory()
  memory.set(start, slotOf(equation.x[0]!))
  memory[slotOf(slots.next)] = first
  return {
    at: (target) => {
      memory[slotOf(slots.target)] = target
      module.call('advance')
      return memory.slice(slotOf(equation.x[0]!), slotOf(equation.x[0]!) + start.length)
    },
    accepted: () => memory[slotOf(slots.accepted)]!,
    stuck: () => memory[slotOf(slots.stuck)] === 1,
  }
}

const oscillator: Rates = ([position, speed]) => [speed!, neg(position!)]
const exact = (t: number) => [Math.cos(t), -Math.sin(t)]
const distance = (a: ArrayLike<number>, b: ArrayLike<number>) => Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!)

describe('the classic Runge-Kutta method', () => {
  it('has order 4', () => {
    const errors = [20, 40, 80, 160].map((n) => distance(fixed(oscillator, [1, 0], 5 / n, n), exact(5)))
    const orders = errors.slice(1).map((error, i) => Math.log2(errors[i]! / error))
    expect(orders).toBeNear([4, 4, 4], { absolute: 0.15 })
  })
})

describe("Dormand and Prince's method", () => {
  // Dormand & Prince 1980; Hairer, Nørsett & Wanner, Solving ODEs I, table II.5.2 (from memory); figures by scipy
  const { expected } = reference<object, { errors: number[]; one_step_y: number[] }>('sim-dopri5-order')
  const fixedErrors = [20, 40, 80, 160].map((n) =>
    distance(adaptive(oscillator, [1, 0], 1, 'onTarget', 5 / n, 5 / n).at(5), exact(5)),
  )

  it('has the published errors at fixed steps, and order 5', () => {
    expect(fixedErrors).toBeNear(expected.errors, { relative: 0.02 })
    fixedErrors.forEach((error, i) => expect(error / expected.errors[i]!).toBeNear(1, { absolute: 0.02 }))
    const orders = fixedErrors.slice(1).map((error, i) => Math.log2(fixedErrors[i]! / error))
    expect(orders).toBeNear([5, 5, 5], { absolute: 0.1 })
  })
  it('takes the published step of the pendulum', () => {
    const pendulum: Rates = ([angle, rate]) => [rate!, neg(sin(angle!))]
    expect(adaptive(pendulum, [1.2, 0.3], 1, 'onTarget', 0.25, 0.25).at(0.25)).toBeNear(expected.one_step_y, { absolute: 1e-14 })
  })
  it('has consistent coefficients', () => {
    const { a, c, e } = dormandPrince
    a.forEach((row, i) => expect(row.reduce<number>((sum, value) => sum + value, 0)).toBeNear(c[i]!, { absolute: 1e-14 }))
    expect(e.reduce<number>((sum, value) => sum + value, 0)).toBeNear(0, { absolute: 1e-15 })
    // order conditions up to 5 for the quadratures: sum b c^k = 1/(k + 1)
    for (let k = 0; k < 5; k++)
      expect(a[6].reduce<number>((sum, b, i) => sum + b * c[i]! ** k, 0)).toBeNear(1 / (k + 1), { absolute: 1e-14 })
  })
  it('keeps its tolerance on a nonstiff orbit', () => {
    // the Arenstorf orbit returns to its start after its period: Hairer, Nørsett & Wanner I, II.0 (quoted from memory)
    const mu = 0.012277471
    const arenstorf: Rates = ([x, y, u, v]) => {
      const cubed = (ax: Scalar, ay: Scalar) => pow15(ax, ay)
      return [u!, v!, ...gravity(x!, y!, u!, v!, mu, cubed)]
    }
    const start = [0.994, 0, 0, -2.0015851063790824]
    const end = adaptive(arenstorf, start, 1e-13, 'onTarget').at(17.06521656015796)
    expect([end[0], end[1]]).toBeNear([start[0], start[1]], { absolute: 1e-6 }) // the orbit multiplies errors by about 1e6
  })
  it('reads between its steps with order 4', () => {
    const worst = [0.8, 0.4, 0.2].map((h) => {
      const run = adaptive(oscillator, [1, 0], 1, 'between', h, h)
      return Math.max(...Array.from({ length: 40 }, (_, i) => distance(run.at(i * 0.1), exact(i * 0.1))))
    })
    const orders = worst.slice(1).map((error, i) => Math.log2(worst[i]! / error))
    expect(Math.min(...orders)).toBeGreaterThan(3.7)
  })
  it('lengthens its steps where little happens', () => {
    const run = adaptive(([x]) => [neg(x!)], [1], 1e-6, 'onTarget')
    expect(run.at(10)[0]).toBeNear(Math.exp(-10), { absolute: 1e-5 })
    expect(run.accepted()).toBeLessThan(60)
  })
  it('follows a stiff oscillator, with many short steps, to the published figures', () => {
    // Hairer & Wanner, Solving ODEs II, IV.10, and the test set of Mazzia & Magherini (from memory, recomputed)
    const { inputs, expected } = reference<{ eps: number; y0: number[]; t: number[] }, { y: number[][] }>('sim-vanderpol')
    const vanDerPol: Rates = ([y1, y2]) => [y2!, div(sub(mul(sub(1, square(y1!)), y2!), y1!), inputs.eps)]
    const end = adaptive(vanDerPol, inputs.y0, 1e-7, 'onTarget', 1e9, 1e-7).at(inputs.t[0]!)
    expect(end).toBeNear(expected.y[0]!, { relative: 1e-4 })
  })
  it('gives up where the solution ends, and says so', () => {
    const run = adaptive(([x]) => [mul(x!, x!)], [1], 1e-8, 'onTarget') // 1/(1 - t) ends at 1
    run.at(2)
    expect(run.stuck()).toBe(true)
  })
})

function pow15(ax: Scalar, ay: Scalar): Scalar {
  return pow(add(square(ax), square(ay)), 1.5)
}

/** Restricted three-body accelerations in rotating axes. */
function gravity(x: Scalar, y: Scalar, u: Scalar, v: Scalar, mu: number, cubed: (ax: Scalar, ay: Scalar) => Scalar): Scalar[] {
  const [d1, d2] = [cubed(add(x, mu), y), cubed(sub(x, 1 - mu), y)]
  const pull = (a: Scalar, b: Scalar) => add(div(mul(1 - mu, a), d1), div(mul(mu, b), d2))
  return [sub(add(x, mul(2, v)), pull(add(x, mu), sub(x, 1 - mu))), sub(sub(y, mul(2, u)), pull(y, y))]
}
