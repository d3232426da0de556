import { describe, expect, it } from 'vitest'
import { lawOf } from '../control'
import { usualIntegralCorner } from './tunings'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { fromPolynomials } from '../linear'
import type { StateSpace } from '../linear'
import { farFromGround, lampCascade, lamplighter, lamplighterInVacuum } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { reference } from '../tests/reference'
import scipy from './heightMargins.json' with { type: 'json' }
import { analyse, bargain, calmMap, designLoop, loopModel, modelOfLoop, noGains, predict, responseFigures, tune } from './index'

const law = (name: string, filters: Record<string, Part> = {}) => lawOf({ law: { kind: name }, filters })

/** gain / s², with the rate as second output */
function doubleIntegrator(gain: number): StateSpace {
  return {
    a: [
      [0, 1],
      [0, 0],
    ],
    b: [[0], [gain]],
    c: [
      [1, 0],
      [0, 1],
    ],
    d: [[0], [0]],
    dt: null,
    states: ['x', 'v'],
    inputs: ['u'],
    outputs: ['x', 'v'],
  }
}

/** Sampled so fast and without delay that it is continuous for the eye of a test. */
function nearlyContinuous(name: string, plant: StateSpace) {
  return loopModel(law(name), plant, plant, 200_000, 0)
}

describe('tuning a pure double integrator', () => {
  it('gives the closed form kp = w² cos(phi)/b, kd = w sin(phi)/b', () => {
    const [w, phi, b] = [4.2, 1.0123, 0.294]
    const tuned = tune(nearlyContinuous('pdOnRate', doubleIntegrator(b)), {
      crossover: w,
      phaseMargin: phi,
      integralCorner: 0.125,
    })
    if (tuned.kind !== 'tuned') throw new Error(tuned.what)
    expect([tuned.gains.kp, tuned.gains.kd]).toBeNear([(w * w * Math.cos(phi)) / b, (w * Math.sin(phi)) / b], { relative: 1e-4 }) // the hold of 5 µs is left
  })

  it('gives the gains of the reference, PD and PID', () => {
    // closed form; see the file
    interface Tuning {
      readonly inputs: { J: number; wc: number; pm_deg: number }
      readonly expected: { PD: { Kp: number; Kd: number }; PID: { Kp: number; Ki: number; Kd: number } }
    }
    const { inputs, expected } = reference<Tuning['inputs'], Tuning['expected']>('tune-double-integrator')
    const requirement = { crossover: inputs.wc, phaseMargin: (inputs.pm_deg * Math.PI) / 180, integralCorner: 1 / 8 }
    const gainsOf = (name: string) => {
      const tuned = tune(nearlyContinuous(name, doubleIntegrator(1 / inputs.J)), requirement)
      return tuned.kind === 'tuned' ? tuned.gains : noGains
    }
    expect([gainsOf('pdOnRate').kp, gainsOf('pdOnRate').kd]).toBeNear([expected.PD.Kp, expected.PD.Kd], { relative: 1e-4 })
    const pid = gainsOf('pidOnRate')
    expect([pid.kp, pid.ki, pid.kd]).toBeNear([expected.PID.Kp, expected.PID.Ki, expected.PID.Kd], { relative: 1e-4 })
  })
})

const notch = { kind: 'notch', frequency: 40, width: 0.5, depth: 0.1 }
const slow = { kind: 'lowPass', frequency: 60, order: 1 }

describe.each([
  ['proportional', fromPolynomials([3], [1, 2, 0], null), 1.1],
  ['pdOnRate', doubleIntegrator(0.4), 3],
  ['proportionalIntegral', fromPolynomials([2], [0.5, 1], null), 4],
  ['pidOnRate', doubleIntegrator(0.4), 3],
  ['proportionalDerivative', doubleIntegrator(0.4), 3],
  ['proportionalIntegralDerivative', doubleIntegrator(0.4), 3, { notch }],
  ['proportionalIntegral', fromPolynomials([2], [0.5, 1], null), 4, { notch, slow }],
] as const)('tuning %s with real delay', (name, plant, crossover, filters: Record<string, Part> = {}) => {
  const model = loopModel(law(name, filters), plant, plant, 100, 2)
  const tuned = tune(model, { crossover, phaseMargin: 0.9, integralCorner: 0.1 })

  it('meets what was asked, as the margins found afterwards confirm', () => {
    if (tuned.kind !== 'tuned') throw new Error(tuned.what)
    const found = analyse(model, tuned.gains)
    expect(found.crossover).toBeNear(crossover, { relative: 1e-9 })
    if (name !== 'proportional') expect(found.phaseMargin).toBeNear(0.9, { relative: 1e-9 })
    expect(found.stable).toBe(true)
  })
  it('accounts for every degree of phase', () => {
    if (tuned.kind !== 'tuned') throw new Error(tuned.what)
    const { account, phaseMargin } = analyse(model, tuned.gains)
    expect(account.reduce((sum, { phase }) => sum + phase, 0)).toBeNear(phaseMargin! - Math.PI, { absolute: 1e-12 })
    expect(account.find((entry) => entry.name === 'delay')!.phase).toBeNear(-crossover * 0.02, { relative: 1e-9 })
  })
})

it('what a filter turns the phase by stands in the account', () => {
  const plant = fromPolynomials([2], [0.5, 1], null)
  const model = loopModel(law('proportionalIntegral', { slow }), plant, plant, 100, 0)
  const tuned = tune(model, { crossover: 4, phaseMargin: 0.9, integralCorner: 0.1 })
  if (tuned.kind !== 'tuned') throw new Error(tuned.what)
  const { account } = analyse(model, tuned.gains)
  // a first-order lag of 1/60 s
  expect(account.find(({ name }) => name === 'filters')!.phase).toBeNear(-Math.atan(4 / 60), { relative: 0.05 })
})

it('a slow loop at a fast rate is found where it crosses', () => {
  const model = loopModel(law('pdOnRate'), doubleIntegrator(0.4), doubleIntegrator(0.4), 1000, 0)
  const tuned = tune(model, { crossover: 0.02, phaseMargin: 0.9, integralCorner: 0.1 })
  if (tuned.kind !== 'tuned') throw new Error(tuned.what)
  const found = analyse(model, tuned.gains)
  expect([found.crossover, found.phaseMargin]).toBeNear([0.02, 0.9], { relative: 1e-6 })
})

describe('the height loop of the demo', () => {
  it.each(scipy.cases)('has the margins that scipy finds, kp $kp', ({ kp, kd, ...wanted }) => {
    // heightMargins.json, made once by heightMargins.py with scipy.signal from matrices written down by hand
    const { model } = expectDone(modelOfLoop(replaceAt<Document>(lamplighterInVacuum(), 'loops.height.reads', 'true'), 'height'))
    const found = analyse(model, { kp, ki: 0, kd })
    expect([found.crossover, found.phaseMargin, found.gainMargin?.w, found.gainMargin?.factor]).toBeNear(
      [wanted.crossover, wanted.phaseMargin, wanted.phaseCrossover, wanted.gainMargin],
      { relative: 1e-8 },
    )
  })
  it('explains what is out of reach, and the remedy puts it right', () => {
    const ask = (phaseMargin: number) =>
      replaceAt<Document>(lamplighter(), 'loops.height.tuning', { kind: 'requirement', crossover: 12, phaseMargin })
    const outcome = designLoop(ask(1.5), 'height')
    if (outcome.kind !== 'refused') throw new Error('It should be out of reach.')
    const most = Number(/at most ([\d.]+)°/.exec(outcome.problems[0]!.remedy)![1])
    expect(designLoop(ask(((most - 0.1) * Math.PI) / 180), 'height').kind).toBe('done')
  })
  it('is called unstable with gains of the wrong sign', () => {
    const { model } = expectDone(modelOfLoop(lamplighter(), 'height'))
    expect(analyse(model, { kp: -20, ki: 0, kd: 10 }).stable).toBe(false)
  })
})

describe('the prediction', () => {
  const { model, gains } = expectDone(designLoop(lamplighterInVacuum(), 'height'))
  const step = (closed: boolean, imbalance: number, { of = model, until = 8 } = {}) =>
    predict(of, { gains, reference: () => [1, 0, 0], imbalance, closed, until })
  it('reaches the reference when the weight is carried', () => {
    const { t, held, push } = step(true, 0)
    const figures = responseFigures(t, held, push, 0, 0, 1)
    expect(figures.steadyError).toBeNear(0, { absolute: 1e-6 })
    expect(figures.rise!).toBeGreaterThan(0.3)
  })
  it('leaves the missing weight over kp as its error', () => {
    expect(step(true, -5).held.at(-1)!).toBeNear(1 - 5 / gains.kp, { relative: 1e-6 })
  })
  it('falls freely without feedback and feedforward, once the rotors have slowed', () => {
    const { held } = step(false, -33.3426) // the whole weight of 3.4 kg missing
    expect(held.at(-1)! - 2 * held.at(-101)! + held.at(-201)!).toBeNear(-9.80665 * 0.5 ** 2, { relative: 1e-6 })
  })
  it('falls at its last speed where the air resists', () => {
    const { model: inAir } = expectDone(modelOfLoop(farFromGround(lamplighter()), 'height'))
    const { t, held } = step(false, -33.3426, { of: inAir, until: 120 })
    const speed = (held.at(-1)! - held.at(-2)!) / (t.at(-1)! - t.at(-2)!)
    expect(speed).toBeNear(-33.3426 / 0.42, { relative: 1e-5 }) // weight over drag
  })
})

describe('a bargain', () => {
  const design = (crossover: number) => {
    const document = replaceAt<Document>(lamplighter(), 'loops.height.tuning.crossover', crossover)
    const { model, gains } = expectDone(designLoop(document, 'height'))
    const { t, held, push } = predict(model, { gains, reference: () => [1, 0, 0], imbalance: 0, closed: true, until: 8 })
    return { analysis: analyse(model, gains), figures: responseFigures(t, held, push, 0, 0, 1) }
  }
  it('says what a faster loop buys and costs', () => {
    const lines = bargain(design(5.4), design(3.1))
    expect(lines.find(({ figure }) => figure === 'rise')).toMatchObject({ sort: 'bought', direction: 'less' })
    expect(lines.find(({ figure }) => figure === 'peakCommand')).toMatchObject({ sort: 'costs', direction: 'more' })
    expect(lines.map(({ share }) => share)).toEqual(lines.map(({ share }) => share).sort((a, b) => b - a))
  })
  it('keeps everything against itself', () => {
    expect(bargain(design(4), design(4)).every(({ sort }) => sort === 'kept')).toBe(true)
  })
})

describe('an integral whose push moves nothing at rest, commanded by a loop that does', () => {
  // a lifter beside the ground: lift moves its height at rest, and its climb rate no more
  const document = lampCascade()
  const { model, gains } = expectDone(designLoop(document, 'climbRate'))

  it('is no reason against its design, and all say alike that it is stable', () => {
    expect(gains.ki).toBeGreaterThan(0)
    const { stable, closedPoles } = analyse(model, gains)
    expect(stable).toBe(true)
    // the pole that stands at 1 is felt by nobody; what is left dies out
    expect(Math.max(...closedPoles.map(({ re, im }) => Math.hypot(re, im)))).toBeLessThan(0.9999)
    const map = calmMap(model, usualIntegralCorner, [4, 6], [1, 1.1])
    expect([...map.why]).toEqual([0, 0, 0, 0])
    expect(map.figures.settling.every((value) => value > 0 && value < 10)).toBe(true)
  })

  it('stays one where nothing commands it', () => {
    const alone = replaceAt<Document>(document, 'loops.height.closed', false)
    expect(designLoop(alone, 'climbRate')).toMatchObject({ kind: 'refused', problems: [{ where: 'loops.climbRate.law' }] })
  })

  it('is unstable with the wrong sign all the same', () => {
    expect(analyse(model, { ...gains, kp: -gains.kp, ki: -gains.ki }).stable).toBe(false)
  })
})
