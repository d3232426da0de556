import { describe, expect, it } from 'vitest'
import { multiply, exponentialOf } from '../../algebra'
import { Graph, add, div, evaluate, sub } from '../../expression'
import { fromPolynomials, poles, sampledWithHold } from '../../linear'
import { valuesOf } from '../../kinds'
import { reference } from '../../tests/reference'
import { ofSettings } from '../law'
import type { Law, LawInputs, LawSettings } from '../law'
import type { Scalar } from '../../expression'
import { laws } from './index'
import { pidOnRate } from './pidOnRate'

/** Settings of laws that say nothing without them. */
const given: Readonly<Record<string, Readonly<Record<string, unknown>>>> = {
  gainSchedule: {
    signal: 'height',
    points: [
      [0, 1, 1, 1],
      [2, 3, 2, 4],
    ],
  },
  stateFeedback: { states: { a: { kind: 'fedBack', signal: 'a' } }, integral: 'with' },
  typedLaw: {
    command: '2 * error + s',
    states: { s: { kind: 'lawState', start: 0, next: '0.9 * s + slow * error' } },
    constants: { slow: { value: 0.1 } },
  },
  stateLogic: {
    states: {
      go: { kind: 'logicState', command: '3 * error', when: 'error < 0.1 for 0.05 s', next: 'rest', timeOut: 2, after: 'rest' },
      rest: { kind: 'logicState', command: '0', when: 'error > 1 or since >= 3', next: 'go' },
    },
  },
}

describe.each(laws)('the law $name', (law) => {
  const settings = valuesOf(law, { kind: law.name, ...given[law.name] })
  const remembers = ofSettings(law.memory, settings)
  const named = ofSettings(law.gains, settings)
  const signals = law.signals?.(settings) ?? []
  const memory = remembers.map(() => 0.3)
  const nothing = law.start?.(settings) ?? remembers.map(() => 0)
  const gains = { kp: 2, ki: 1.5, kd: 0.3, a: 0.8 }
  const still = { signals: signals.map(() => 0), rest: signals.map(() => 0), follow: signals.map(() => 0) }
  const some = { error: 0.7, reference: 0.4, rate: 0.2, dt: 0.01, excess: 0, ...still, signals: signals.map(() => 0.6) }

  it('asks for nothing at rest, unless it switches', () => {
    const { terms } = law.step({ error: 0, reference: 0, rate: 0, dt: 0.01, excess: 0, ...still }, nothing, gains, settings)
    expect(Object.values(terms).every((term) => term === 0)).toBe(law.name !== 'relay')
  })

  it('uses the gains that it names and no others', () => {
    const command = (changed: Partial<typeof gains>) => {
      const { terms, memory: next } = law.step(some, memory, { ...gains, ...changed }, settings)
      return [...Object.values(terms), ...next]
    }
    for (const gain of ['kp', 'ki', 'kd', 'a'] as const)
      expect(JSON.stringify(command({ [gain]: 9 })) !== JSON.stringify(command({})), gain).toBe(named.includes(gain))
  })

  it('is the same over numbers and over expressions', () => {
    const graph = new Graph()
    const slots = [0.7, 0.2, 0.4, ...memory, ...some.signals]
    const inputs = {
      ...some,
      ...{ error: graph.slot(0), rate: graph.slot(1), reference: graph.slot(2) },
      signals: signals.map((_, i) => graph.slot(3 + memory.length + i)),
    }
    const written = law.step(
      inputs,
      memory.map((_, i) => graph.slot(3 + i)),
      gains,
      settings,
    )
    const plain = law.step(some, memory, gains, settings)
    expect(Object.values(written.terms).map((term) => evaluate(term, slots))).toEqual(Object.values(plain.terms))
    expect(written.memory.map((value) => evaluate(value, slots))).toEqual(plain.memory)
  })

  it('pushes against the error, and against the rate where it has one', () => {
    const total = (error: number, rate: number) =>
      Object.values(
        law.step({ ...some, error, rate, reference: 0, signals: still.signals }, nothing, gains, settings).terms,
      ).reduce<number>((sum, term) => sum + (term as number), 0)
    expect(total(1, 0)).toBeGreaterThan(0)
    if (law.name !== 'relay') expect(total(0, 1)).toBeNear(law.readsRate ? -gains.kd : 0, { absolute: 1e-15 })
  })
})

/** What a law commands over some samples, its memory carried on. */
function commands(law: Law, settings: LawSettings, errors: readonly number[], more: Partial<LawInputs> = {}): number[] {
  let memory: readonly Scalar[] = law.start?.(settings) ?? ofSettings(law.memory, settings).map(() => 0)
  return errors.map((error) => {
    const inputs = { error, reference: 0, rate: 0, dt: 0.1, excess: 0, signals: [], rest: [], follow: [], ...more }
    const step = law.step(inputs, memory, { kp: 1, ki: 0, kd: 0 }, settings)
    memory = step.memory
    return Object.values(step.terms).reduce<number>((sum, term) => sum + (term as number), 0)
  })
}
const named = (name: string) => laws.find((law) => law.name === name)!
const settingsOf = (name: string, more: object = {}) => valuesOf(named(name), { kind: name, ...given[name], ...more })

describe('laws that switch', () => {
  it('a relay changes over beyond its hysteresis only', () => {
    const settings = settingsOf('relay', { amplitude: 2, hysteresis: 0.3 })
    expect(commands(named('relay'), settings, [1, 0.1, -0.2, -0.4, 0.2, 0.31, -0.1])).toEqual([2, 2, 2, -2, -2, 2, 2])
  })

  it('on and off leaves a dead zone', () => {
    const settings = settingsOf('onOff', { zone: 0.5, upper: 4, lower: -1 })
    expect(commands(named('onOff'), settings, [1, 0.5, 0, -0.5, -0.6])).toEqual([4, 0, 0, 0, -1])
  })

  it('state logic waits for its condition to last, and times out', () => {
    const settings = settingsOf('stateLogic')
    // below 0.1 from the second sample; it holds for more than 0.05 s at once, then rests until the error is above 1
    expect(commands(named('stateLogic'), settings, [1, 0.05, 0.05, 0.5, 2, 2])).toBeNear([3, 0.15, 0, 0, 0, 6], {
      absolute: 1e-12,
    })
    // never below 0.1: left by its time-out of 2 s, and taken up again after 3 s
    const long = commands(named('stateLogic'), settings, new Array<number>(60).fill(0.5))
    expect(long.indexOf(0)).toBe(21)
    expect(long.lastIndexOf(0)).toBe(51)
  })
})

describe('laws of formulas and tables', () => {
  it('a typed law is its difference equation by hand', () => {
    const errors = [1, -0.4, 0.3, 0.8]
    let s = 0
    const byHand = errors.map((error) => {
      const command = 2 * error + s
      s = 0.9 * s + 0.1 * error
      return command
    })
    expect(commands(named('typedLaw'), settingsOf('typedLaw'), errors)).toBeNear(byHand, { absolute: 1e-15 })
  })

  it('a schedule scales the gains by its table', () => {
    const at = (signal: number) =>
      commands(named('gainSchedule'), settingsOf('gainSchedule'), [1], { signals: [signal - 0.5], rest: [0.5] })[0]
    expect([at(-1), at(0), at(1), at(2), at(9)]).toEqual([1, 1, 2, 3, 3])
  })
})

describe('PID on the rate', () => {
  // K. J. Åström & B. Wittenmark, Computer-Controlled Systems (algorithm form); exact hold; figures computed in the file
  interface Case {
    readonly inputs: { Kp: number; Ki: number; Kd: number; Ts: number; N: number }
    readonly expected: { u_first5: number[]; y_first6: number[]; y_last: number; closed_loop_spectral_radius: number }
  }
  const { inputs, expected } = reference<Case['inputs'], Case['expected']>('sim-sampled-pid')
  const gains = { kp: inputs.Kp, ki: inputs.Ki, kd: inputs.Kd }
  const plant = sampledWithHold(fromPolynomials([1], [1, 1.2, 1], null), inputs.Ts)

  it('runs a held plant through the computed samples', () => {
    let x = [[0], [0]]
    let before = 0
    let memory: readonly number[] = [0]
    const [u, y]: number[][] = [[], []]
    for (let k = 0; k < inputs.N; k++) {
      const measured = multiply(plant.c, x)[0]![0]!
      const rate = div(sub(measured, before), inputs.Ts)
      const step = pidOnRate.step(
        { error: 1 - measured, reference: 1, rate, dt: inputs.Ts, excess: 0, signals: [], rest: [], follow: [] },
        memory,
        gains,
        { windup: 'none', tracking: 0 },
      )
      const command = Object.values(step.terms).reduce<number>((sum, term) => add(sum, term as number), 0)
      memory = step.memory as number[]
      before = measured
      u!.push(command)
      y!.push(measured)
      x = multiply(plant.a, x).map((row, i) => [row[0]! + plant.b[i]![0]! * command])
    }
    expect(u!.slice(0, 5)).toBeNear(expected.u_first5, { absolute: 1e-7 })
    expect(y!.slice(0, 6)).toBeNear(expected.y_first6, { absolute: 1e-7 })
    expect(y!.at(-1)).toBeNear(expected.y_last, { absolute: 1e-7 })
  })

  it('closes the loop with the computed spectral radius', () => {
    // states: plant (2), integral, measured sample before
    const { a, b, c } = plant
    const { kp, ki, kd } = gains
    const back = c[0]!.map((value) => -(kp + kd / inputs.Ts) * value)
    const rows = a.map((row, i) => [
      ...row.map((value, j) => value + b[i]![0]! * back[j]!),
      b[i]![0]!,
      (b[i]![0]! * kd) / inputs.Ts,
    ])
    const closed = [...rows, [...c[0]!.map((value) => -ki * inputs.Ts * value), 1, 0], [...c[0]!, 0, 0]]
    const all = poles({ ...plant, a: closed })!
    expect(Math.max(...all.map(({ re, im }) => Math.hypot(re, im)))).toBeNear(expected.closed_loop_spectral_radius, {
      absolute: 1e-7,
    })
  })

  it('has a plant whose hold agrees with the matrix exponential', () => {
    const continuous = fromPolynomials([1], [1, 1.2, 1], null)
    const scaled = continuous.a.map((row) => row.map((value) => value * inputs.Ts))
    expect(plant.a).toBeNear(exponentialOf(scaled), { relative: 1e-14 })
  })
})
