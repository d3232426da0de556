import { describe, expect, it } from 'vitest'
import { Graph, add, assign, cos, div, loadModule, mul, neg, pow, printWasm, sin, square, sub } from '../expression'
import type { NumberNode, Procedure, Scalar } from '../expression'
import { reference } from '../tests/reference'
import { fadesOf, noFades } from './fades'
import { Layout, adaptiveSteps, dormandPrince, equationSlots, implicitSteps, rodas, rungeKutta4, slopesOf, slotOf } from './index'

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

interface Choices {
  readonly lands?: 'onTarget' | 'between'
  readonly longest?: number
  readonly first?: number
  readonly isImplicit?: boolean
}

function adaptive(rates: Rates, start: readonly number[], tolerance: number, choices: Choices = {}): AdaptiveRun {
  const { lands = 'onTarget', longest = 1e9, first = 0.01, isImplicit = false } = choices
  const layout = new Layout(new Graph())
  const equation = equationSlots(layout, start.length)
  const control = { relativeTolerance: tolerance, absoluteTolerance: tolerance, longest }
  const written = rates(equation.stage, equation.stageTime)
  const slopes = slopesOf(layout, equation, written)
  const { procedures, slots } = isImplicit
    ? implicitSteps(layout, equation, slopes, control)
    : adaptiveSteps(layout, equation, control, lands)
  const module = loadModule(
    printWasm({
      slots: layout.slots,
      procedures: [derivative(equation.slope, written), { name: 'jacobian', body: [assign(slopes.values)] }, ...procedures],
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

describe('states that fade by themselves', () => {
  // x' = -25 (x - u), v' = x² - v/2, s' = 0: the first and last go by themselves, the second does not
  const rates: Rates = ([x, v]) => [mul(-25, sub(x!, 2)), sub(square(x!), mul(0.5, v!)), 0]
  const after = (n: number, taken: boolean) => {
    const layout = new Layout(new Graph())
    const equation = equationSlots(layout, 3)
    const written = rates(equation.stage, equation.stageTime)
    const { fades, first } = taken ? fadesOf(layout, equation, written, 0.4 / n, () => false) : noFades
    const step = rungeKutta4(layout, equation, 0.4 / n, fades)
    const procedures = [derivative(equation.slope, written), step, { name: 'prepare', body: [assign(first)] }]
    const module = loadModule(printWasm({ slots: layout.slots, procedures }))
    module.memory().set([1, 0.5, 7], slotOf(equation.x[0]!))
    module.call('prepare')
    for (let k = 0; k < n; k++) module.call('rk4')
    return { fading: [...fades.keys()], x: module.memory().slice(slotOf(equation.x[0]!), slotOf(equation.x[0]!) + 3) }
  }

  it('go where they go, at any length of step', () => {
    const { x, fading } = after(2, true)
    expect(fading).toEqual([0, 2])
    expect([x[0], x[2]]).toBeNear([2 - Math.exp(-25 * 0.4), 7], { absolute: 1e-15 })
  })
  it('take those that they move along with order 4, nearer than without', () => {
    // v by its integrating factor: sums of exponentials
    const wanted = (t: number) => {
      const part = (rate: number, size: number) => (size * (Math.exp(-rate * t) - Math.exp(-0.5 * t))) / (0.5 - rate)
      return 0.5 * Math.exp(-0.5 * t) + part(0, 4) + part(25, -4) + part(50, 1)
    }
    const errors = (taken: boolean) => [8, 16, 32, 64].map((n) => Math.abs(after(n, taken).x[1]! - wanted(0.4)))
    const exactly = errors(true)
    expect(Math.log2(exactly[2]! / exactly[3]!)).toBeNear(4, { absolute: 0.2 })
    errors(false).forEach((error, k) => expect(error).toBeGreaterThan(3 * exactly[k]!))
  })
})

describe("Dormand and Prince's method", () => {
  // Dormand & Prince 1980; Hairer, Nørsett & Wanner, Solving ODEs I, table II.5.2 (from memory); figures by scipy
  const { expected } = reference<object, { errors: number[]; one_step_y: number[] }>('sim-dopri5-order')
  const fixedErrors = [20, 40, 80, 160].map((n) =>
    distance(adaptive(oscillator, [1, 0], 1, { longest: 5 / n, first: 5 / n }).at(5), exact(5)),
  )

  it('has the published errors at fixed steps, and order 5', () => {
    expect(fixedErrors).toBeNear(expected.errors, { relative: 0.02 })
    fixedErrors.forEach((error, i) => expect(error / expected.errors[i]!).toBeNear(1, { absolute: 0.02 }))
    const orders = fixedErrors.slice(1).map((error, i) => Math.log2(fixedErrors[i]! / error))
    expect(orders).toBeNear([5, 5, 5], { absolute: 0.1 })
  })
  it('takes the published step of the pendulum', () => {
    const pendulum: Rates = ([angle, rate]) => [rate!, neg(sin(angle!))]
    expect(adaptive(pendulum, [1.2, 0.3], 1, { longest: 0.25, first: 0.25 }).at(0.25)).toBeNear(expected.one_step_y, {
      absolute: 1e-14,
    })
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
    const end = adaptive(arenstorf, start, 1e-13).at(17.06521656015796)
    expect([end[0], end[1]]).toBeNear([start[0], start[1]], { absolute: 1e-6 }) // the orbit multiplies errors by about 1e6
  })
  it('reads between its steps with order 4', () => {
    const worst = [0.8, 0.4, 0.2].map((h) => {
      const run = adaptive(oscillator, [1, 0], 1, { lands: 'between', longest: h, first: h })
      return Math.max(...Array.from({ length: 40 }, (_, i) => distance(run.at(i * 0.1), exact(i * 0.1))))
    })
    const orders = worst.slice(1).map((error, i) => Math.log2(worst[i]! / error))
    expect(Math.min(...orders)).toBeGreaterThan(3.7)
  })
  it('lengthens its steps where little happens', () => {
    const run = adaptive(([x]) => [neg(x!)], [1], 1e-6)
    expect(run.at(10)[0]).toBeNear(Math.exp(-10), { absolute: 1e-5 })
    expect(run.accepted()).toBeLessThan(60)
  })
  it('follows a stiff oscillator, with many short steps, to the published figures', () => {
    // Hairer & Wanner, Solving ODEs II, IV.10, and the test set of Mazzia & Magherini (from memory, recomputed)
    const { inputs, expected } = reference<{ eps: number; y0: number[]; t: number[] }, { y: number[][] }>('sim-vanderpol')
    const vanDerPol: Rates = ([y1, y2]) => [y2!, div(sub(mul(sub(1, square(y1!)), y2!), y1!), inputs.eps)]
    const end = adaptive(vanDerPol, inputs.y0, 1e-7, { first: 1e-7 }).at(inputs.t[0]!)
    expect(end).toBeNear(expected.y[0]!, { relative: 1e-4 })
  })
  it('gives up where the solution ends, and says so', () => {
    const run = adaptive(([x]) => [mul(x!, x!)], [1], 1e-8) // 1/(1 - t) ends at 1
    run.at(2)
    expect(run.stuck()).toBe(true)
  })
})

describe('the implicit method', () => {
  const isImplicit = true

  it('has order 4, with time in the equation as well', () => {
    // y' = -y² + cos t + sin² t has the solution sin t
    const rates: Rates = ([y], t) => [add(sub(cos(t), square(y!)), square(sin(t)))]
    const errors = [40, 80, 160, 320].map((n) =>
      Math.abs(adaptive(rates, [0], 1, { isImplicit, longest: 2 / n, first: 2 / n }).at(2)[0]! - Math.sin(2)),
    )
    const orders = errors.slice(1).map((error, i) => Math.log2(errors[i]! / error))
    expect(orders).toBeNear([4, 4, 4], { absolute: 0.25 })
  })
  it('has rows that end with the step, and slopes by time that belong to its stages', () => {
    const { a, alpha, gamma } = rodas
    // stiffly accurate: the last stages take all of the one before
    expect(a[5]).toEqual([...a[4], 1])
    // the first stage moves by a21 gamma, which is its place
    expect(a[1][0] * gamma).toBeNear(alpha[1], { absolute: 1e-15 })
  })
  it('damps at once what is too fast for its step', () => {
    for (const rate of [1e3, 1e6, 1e9]) {
      const end = adaptive(([x]) => [mul(-rate, x!)], [1], 1e3, { isImplicit, longest: 1, first: 1 }).at(1)
      expect(Math.abs(end[0]!)).toBeLessThan(20 / rate)
    }
  })
  it('keeps up with a moving place that it is drawn to, in few steps', () => {
    // y' = -1e6 (y - cos t) - sin t: Prothero & Robinson 1974 (from memory)
    const rates: Rates = ([y], t) => [sub(mul(-1e6, sub(y!, cos(t))), sin(t))]
    const run = adaptive(rates, [1], 1e-7, { isImplicit })
    expect(run.at(3)[0]).toBeNear(Math.cos(3), { absolute: 1e-6 })
    expect(run.accepted()).toBeLessThan(200)
  })
  it('gives the published figures of three reactions whose speeds are nine decades apart', () => {
    const { inputs, expected } = reference<{ y0: number[]; t: number[] }, { y: number[][] }>('sim-robertson')
    const rates: Rates = ([a, b, c]) => {
      const [slow, fast, back] = [mul(0.04, a!), mul(3e7, square(b!)), mul(1e4, mul(b!, c!))]
      return [sub(back, slow), sub(sub(slow, back), fast), fast]
    }
    const run = adaptive(rates, inputs.y0, 1e-10, { isImplicit, first: 1e-6 })
    inputs.t.forEach((t, i) => expect(run.at(t)).toBeNear(expected.y[i]!, { relative: 1e-4 }))
    expect(run.accepted()).toBeLessThan(5000)
  })
  it('gives the published figures of eight reactions', () => {
    const { inputs, expected } = reference<{ y0: number[]; t: number[] }, { y: number[][] }>('sim-hires')
    // Hairer & Wanner, Solving ODEs II, IV.10 (from memory)
    const rates: Rates = (y) => {
      const [y1, y2, y3, y4, y5, y6, y7, y8] = y as [Scalar, Scalar, Scalar, Scalar, Scalar, Scalar, Scalar, Scalar]
      const weighed = (...terms: [number, Scalar][]) => terms.map(([k, one]) => mul(k, one)).reduce((a, b) => add(a, b))
      const pair = mul(280, mul(y6, y8))
      return [
        add(weighed([-1.71, y1], [0.43, y2], [8.32, y3]), 0.0007),
        weighed([1.71, y1], [-8.75, y2]),
        weighed([-10.03, y3], [0.43, y4], [0.035, y5]),
        weighed([8.32, y2], [1.71, y3], [-1.12, y4]),
        weighed([-1.745, y5], [0.43, y6], [0.43, y7]),
        sub(weighed([0.69, y4], [1.71, y5], [-0.43, y6], [0.69, y7]), pair),
        sub(pair, mul(1.81, y7)),
        sub(mul(1.81, y7), pair),
      ]
    }
    const run = adaptive(rates, inputs.y0, 1e-9, { isImplicit, first: 1e-4 })
    expect(run.at(inputs.t[0]!)).toBeNear(expected.y[0]!, { relative: 1e-4 })
  })
  it('agrees with the explicit pair where both can go, over an equation that is not stiff', () => {
    const pendulum: Rates = ([angle, rate]) => [rate!, neg(sin(angle!))]
    const [one, other] = [true, false].map((implicit) => adaptive(pendulum, [1.2, 0.3], 1e-10, { isImplicit: implicit }).at(5))
    expect(one).toBeNear(other!, { absolute: 1e-7 })
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
