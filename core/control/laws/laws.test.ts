import { describe, expect, it } from 'vitest'
import { multiply, exponentialOf } from '../../algebra'
import { Graph, add, div, evaluate, sub } from '../../expression'
import { fromPolynomials, poles, sampledWithHold } from '../../linear'
import { valuesOf } from '../../kinds'
import { reference } from '../../tests/reference'
import { laws } from './index'
import { pidOnRate } from './pidOnRate'

describe.each(laws)('the law $name', (law) => {
  const memory = law.memory.map(() => 0.3)
  const gains = { kp: 2, ki: 1.5, kd: 0.3 }
  const settings = valuesOf(law, { kind: law.name })
  const some = { error: 0.7, reference: 0.4, rate: 0.2, dt: 0.01, excess: 0 }

  it('asks for nothing at rest', () => {
    const { terms } = law.step(
      { error: 0, reference: 0, rate: 0, dt: 0.01, excess: 0 },
      law.memory.map(() => 0),
      gains,
      settings,
    )
    expect(Object.values(terms).every((term) => term === 0)).toBe(true)
  })

  it('uses the gains that it names and no others', () => {
    const command = (changed: Partial<typeof gains>) => {
      const { terms, memory: next } = law.step(some, memory, { ...gains, ...changed }, settings)
      return [...Object.values(terms), ...next]
    }
    for (const gain of ['kp', 'ki', 'kd'] as const)
      expect(JSON.stringify(command({ [gain]: 9 })) !== JSON.stringify(command({})), gain).toBe(law.gains.includes(gain))
  })

  it('is the same over numbers and over expressions', () => {
    const graph = new Graph()
    const slots = [0.7, 0.2, 0.4, ...memory]
    const inputs = { ...some, error: graph.slot(0), rate: graph.slot(1), reference: graph.slot(2) }
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
        law.step(
          { ...some, error, rate, reference: 0 },
          law.memory.map(() => 0),
          gains,
          settings,
        ).terms,
      ).reduce<number>((sum, term) => sum + (term as number), 0)
    expect(total(1, 0)).toBeGreaterThan(0)
    expect(total(0, 1)).toBe(law.readsRate ? -gains.kd : 0)
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
      const step = pidOnRate.step({ error: 1 - measured, reference: 1, rate, dt: inputs.Ts, excess: 0 }, memory, gains, {})
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
