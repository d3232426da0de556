import { describe, expect, it } from 'vitest'
import { identity } from '../algebra'
import { lawOf } from '../control'
import { fromPolynomials, placePoles } from '../linear'
import type { StateSpace } from '../linear'
import { expectDone } from '../tests/expectDone'
import { numbersFrom } from '../tests/randomGraph'
import { analyse } from './analysis'
import { responseFigures } from './figures'
import { findings, hasWrongSign } from './findings'
import type { FindingName } from './findings'
import { loopModel } from './loopModel'
import type { Gains } from './loopModel'
import { predict } from './predict'

interface Case {
  readonly plant: readonly [num: readonly number[], den: readonly number[]]
  readonly law?: string
  readonly gains: Partial<Gains>
  readonly rate?: number
  readonly most?: number
  readonly least?: number
}

const size = 0.5

function found({
  plant: [num, den],
  law = 'proportionalIntegralDerivative',
  gains,
  rate = 100,
  most,
  least,
}: Case): FindingName[] {
  const plant = fromPolynomials(num, den, null)
  const model = loopModel(lawOf({ law: { kind: law }, filters: {} }), plant, plant, rate, 0)
  const all = { kp: 0, ki: 0, kd: 0, ...gains } as Gains
  const step = predict(model, { gains: all, reference: () => [size, 0, 0], imbalance: 0, closed: true, until: 30 })
  const figures = responseFigures(step.t, step.held, step.push, 0, 0, size)
  const design = { gains: all, model, values: { most, least } } as never
  return findings({ design, analysis: analyse(model, all), figures, step, stepSize: size }).map(({ name }) => name)
}

const inertia = [[1], [1, 0, 0]] as const
const lag = [[1], [1, 1]] as const

describe('what a step shows', () => {
  it.each<[FindingName, Case]>([
    ['notHeld', { plant: lag, gains: {} }],
    ['wrongSign', { plant: lag, gains: { kp: -0.5 } }],
    ['wrongSign', { plant: [[-1], [1, 1]], gains: { kp: 0.5 } }],
    ['runsAway', { plant: [[1], [1, 0, -4]], gains: { kp: 1, kd: 0.5 } }],
    ['swingsWider', { plant: [[1], [1, 3, 3, 1]], gains: { kp: 12 } }],
    // a proportional law on a pure inertia swings for ever (common practice, no source)
    ['swingsOn', { plant: inertia, gains: { kp: 4 }, rate: 5000 }],
    ['alternates', { plant: lag, law: 'proportional', gains: { kp: 17 }, rate: 10 }],
    ['samplesTooSlow', { plant: [[100], [1, 2, 100]], law: 'proportionalIntegral', gains: { ki: 0.1 }, rate: 3 }],
    ['samplesTooSlow', { plant: [[1], [1, -4]], law: 'proportional', gains: { kp: 5 }, rate: 4 }],
    ['samplesTooSlow', { plant: lag, law: 'proportionalIntegral', gains: { ki: 0.05 }, rate: 0.25 }],
    [
      'crossesAgain',
      {
        plant: [
          [1, 0.02, 1.2],
          [1, 0.02, 4, 0, 0],
        ],
        law: 'proportionalDerivative',
        gains: { kp: 2, kd: 3 },
      },
    ],
    ['hardlyMoves', { plant: lag, gains: { kp: 0.1 } }],
    ['leavesOff', { plant: lag, gains: { kp: 4 } }],
    ['creeps', { plant: [[1], [1, 1]], law: 'proportionalIntegral', gains: { kp: 9, ki: 1.2 } }],
    ['overshoots', { plant: [[1], [1, 0.4, 0]], gains: { kp: 4 } }],
    ['meetsLimit', { plant: lag, gains: { kp: 4, ki: 5 }, most: 1 }],
    ['meetsLimit', { plant: lag, gains: { kp: 4, ki: 5 }, least: 1 }],
    ['follows', { plant: [[1], [1, 1]], law: 'proportionalIntegral', gains: { kp: 3, ki: 4 } }],
  ])('%s', (name, one) => {
    expect(found(one)).toContain(name)
  })

  it('says nothing beside a good answer, and nothing of its figures where it runs off', () => {
    expect(found({ plant: lag, law: 'proportionalIntegral', gains: { kp: 3, ki: 4 } })).toEqual(['follows'])
    expect(found({ plant: [[1], [1, 3, 3, 1]], gains: { kp: 12 } })).toEqual(['swingsWider'])
  })

  it('calls no loop wrong that is stable and goes where it is asked, and every unstable one', () => {
    const next = numbersFrom(41)
    const between = (least: number, most: number) => least + (most - least) * next()
    const laws = {
      proportional: () => ({ kp: between(-8, 8) }),
      proportionalDerivative: () => ({ kp: between(-8, 8), kd: between(-2, 4) }),
      proportionalIntegral: () => ({ kp: between(-4, 4), ki: between(-2, 3) }),
      proportionalIntegralDerivative: () => ({ kp: between(-8, 8), ki: between(-1, 2), kd: between(-2, 4) }),
    }
    const wrong: readonly FindingName[] = ['wrongSign', 'runsAway', 'swingsWider']
    let [right, astray] = [0, 0]
    for (let k = 0; k < 160; k++) {
      const [name, gainsOf] = Object.entries(laws)[k % 4]!
      const den = [1, between(-0.5, 3), between(-2, 6), ...(k % 3 === 0 ? [between(0, 2)] : [])]
      const plant = fromPolynomials([next() < 0.5 ? 1 : -1], den, null)
      const gains = { ki: 0, kd: 0, ...gainsOf() } as Gains
      const model = loopModel(lawOf({ law: { kind: name }, filters: {} }), plant, plant, 100, k % 3)
      const analysis = analyse(model, gains)
      const growth = Math.max(...analysis.closedPoles.map(({ re, im }) => Math.hypot(re, im)))
      const step = predict(model, { gains, reference: () => [size, 0, 0], imbalance: 0, closed: true, until: 60 })
      const figures = responseFigures(step.t, step.held, step.push, 0, 0, size)
      const list = findings({ design: { gains, model, values: {} } as never, analysis, figures, step, stepSize: size })
      const told = list.map((one) => one.name).filter((one) => wrong.includes(one))
      if (growth < 0.9999 && (figures.steadyError ?? 0) > -0.9 * size) {
        expect([k, told]).toEqual([k, []])
        right++
      }
      if (growth > 1.001) {
        expect([k, told.length > 0]).toEqual([k, true])
        astray++
      }
    }
    expect(Math.min(right, astray)).toBeGreaterThan(25)
  })

  it('has nothing against the sign of one gain of a state feedback', () => {
    // a pole on a cart: its place is held by first driving the other way, so the gain on its error is negative
    const [m, M, l, g] = [0.2, 1, 0.5, 9.80665]
    const plant: StateSpace = {
      a: [[0, 1, 0, 0], [0, 0, (-m * g) / M, 0], [0, 0, 0, 1], [0, 0, ((M + m) * g) / (M * l), 0]],
      ...{ b: [[0], [1 / M], [0], [-1 / (M * l)]], c: identity(4), d: [[0], [0], [0], [0]], dt: null },
      ...{ states: ['x', 'v', 'angle', 'rate'], inputs: ['u'], outputs: ['x', 'v', 'angle', 'rate'] },
    } // prettier-ignore
    const poles = [-1.5, -2, -6, -7].map((re) => ({ re, im: 0 }))
    const k = expectDone(placePoles(plant, poles)).k[0]!
    const reads = { a: { kind: 'fedBack', signal: 'v' }, b: { kind: 'fedBack', signal: 'angle' }, c: { kind: 'fedBack', signal: 'rate' } } // prettier-ignore
    const law = lawOf({ law: { kind: 'stateFeedback', states: reads, integral: 'without' }, filters: {} } as never)
    expect(law.signals).toEqual(['v', 'angle', 'rate'])
    const model = loopModel(law, plant, plant, 200, 0, {
      truth: 0,
      rate: 1,
      signals: [1, 2, 3],
      inner: undefined,
      rest: [0, 0, 0],
      follow: [0, 0, 0],
    })
    const gains = { kp: k[0]!, ki: 0, kd: 0, v: k[1]!, angle: k[2]!, rate: k[3]! } as Gains
    expect(gains.kp).toBeLessThan(0)
    const analysis = analyse(model, gains)
    expect(analysis.stable).toBe(true)
    const step = predict(model, { gains, reference: () => [size, 0, 0], imbalance: 0, closed: true, until: 30 })
    const figures = responseFigures(step.t, step.held, step.push, 0, 0, size)
    const told = findings({ design: { gains, model, values: {} } as never, analysis, figures, step, stepSize: size })
    expect(told.filter(({ sort }) => sort === 'wrong')).toEqual([])
  })

  it('an integral without a gain makes no loop unstable', () => {
    const plant = fromPolynomials([1], [1, 1], null)
    const model = loopModel(lawOf({ law: { kind: 'proportionalIntegral' }, filters: {} }), plant, plant, 100, 0)
    expect(analyse(model, { kp: 2, ki: 0, kd: 0 }).stable).toBe(true)
    expect(analyse(model, { kp: 2, ki: 0.1, kd: 0 }).closedPoles).toHaveLength(2)
    expect(analyse(model, { kp: -2, ki: 0, kd: 0 }).stable).toBe(false)
  })

  it('knows the sign of what is unstable by nature: it falls towards the push at rest, yet goes with it', () => {
    const plant = fromPolynomials([2], [1, 0, -9], null)
    const model = loopModel(lawOf({ law: { kind: 'proportional' }, filters: {} }), plant, plant, 200, 0)
    expect(hasWrongSign({ model, gains: { kp: 1, ki: 0, kd: 0 } })).toBe(false)
    expect(hasWrongSign({ model, gains: { kp: -1, ki: 0, kd: 0 } })).toBe(true)
  })

  // common practice, no source: the steady error of a PD loop is the residual force over the proportional gain
  it('leaves off by the residual over the gain', () => {
    const plant = fromPolynomials([1], [1, 2, 0], null)
    const model = loopModel(lawOf({ law: { kind: 'proportionalDerivative' }, filters: {} }), plant, plant, 500, 0)
    const step = predict(model, {
      gains: { kp: 5, ki: 0, kd: 1 },
      reference: () => [0, 0, 0],
      imbalance: -2,
      closed: true,
      until: 40,
    })
    expect(step.held.at(-1)).toBeNear(-2 / 5, { relative: 1e-4 })
  })

  // common practice, no source: ten times the inertia leaves the overshoot and lengthens the rise √10 times, where kd grows so too
  it('keeps the overshoot of a PD loop with ten times the inertia, and rises √10 times as long', () => {
    const run = (mass: number) => {
      const plant = fromPolynomials([1 / mass], [1, 0, 0], null)
      const model = loopModel(
        lawOf({ law: { kind: 'proportionalDerivative', filterTime: 0 }, filters: {} }),
        plant,
        plant,
        2000,
        0,
      )
      const gains = { kp: 9, ki: 0, kd: 3 * Math.sqrt(mass) }
      const step = predict(model, { gains, reference: () => [1, 0, 0], imbalance: 0, closed: true, until: 12 })
      return responseFigures(step.t, step.held, step.push, 0, 0, 1)
    }
    const [light, heavy] = [run(1), run(10)]
    expect(heavy.overshoot).toBeNear(light.overshoot, { absolute: 2e-3 })
    expect(heavy.rise! / light.rise!).toBeNear(Math.sqrt(10), { relative: 5e-3 })
  })
})
