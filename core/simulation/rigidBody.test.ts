import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { assemble, fullMechanism, momentum, numbersOf } from '../machine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { freeProgram } from './index'

type Triple = readonly [number, number, number]

/** One body that nothing holds, with these moments. */
const freeBody = (moments: Triple, mass = 1, gravity = 0): Part =>
  mechanismPart({ stone: bodyPart(mass, [0, 0, 0], moments, jointPart('free', 'ground', [0, 0, 0])) }, { gravity })
const axes = ['x', 'y', 'z'] as const
const rates = axes.map((axis) => `stone.w${axis}`)

/** Its record from some rates, in steps of at most h; a row each `every` steps. */
const tumbling = (machine: Part, omega: readonly number[], until: number, step: number, every: number) => {
  const program = freeProgram(machine, fullMechanism, [])
  const { positions, speeds } = assemble(machine, numbersOf(machine))
  const start = [
    ...positions.map(({ name }) => (name.endsWith('.w') ? 1 : 0)),
    ...speeds.map(({ name }) => omega[rates.indexOf(name)] ?? 0),
  ]
  const record = program.run({ start, until, step, every })
  const at = (name: string, t: number) => {
    const row = record.time.findIndex((time) => Math.abs(time - t) < 1e-9)
    return record.columns.find((column) => column.name === name)!.values[row]!
  }
  const momentumAt = (t: number) => {
    const { tree } = assemble(machine, numbersOf(machine))
    const q = positions.map(({ name }) => at(name, t))
    const state = { q, speeds: speeds.map(({ name }) => at(name, t)), accelerations: [] }
    return momentum(tree, state).angular as readonly number[]
  }
  return { at, momentumAt }
}

describe('a free rigid body', () => {
  it('keeps its energy and angular momentum over 100 s to 1e-9', () => {
    const { at, momentumAt } = tumbling(freeBody([0.06, 0.058, 0.104], 3.4), [1.1, -0.7, 2.3], 100, 1e-3, 10_000)
    expect(at('energy.kinetic', 100)).toBeNear(at('energy.kinetic', 0), { relative: 1e-9 })
    expect(momentumAt(100)).toBeNear(momentumAt(0), { absolute: 1e-9 })
    expect(rates.map((name) => at(name, 100))).not.toBeNear(
      rates.map((name) => at(name, 0)),
      { absolute: 0.1 },
    )
  })

  it('tumbles as the Jacobi-elliptic solution says', () => {
    // Landau & Lifshitz, Mechanics, 3rd ed., section 37 (from memory); figures by an eighth-order method at 1e-13
    interface Top {
      readonly inputs: { I_kg_m2: Triple; omega0_body: number[] }
      readonly expected: {
        times: number[]
        omega_body: number[][]
        period_s: number
        quat_wxyz_at_10s: number[]
        H_world: number[]
        kinetic: number
      }
    }
    const { inputs, expected } = reference<Top['inputs'], Top['expected']>('rbd-dzhanibekov')
    const machine = freeBody(inputs.I_kg_m2)
    const { at, momentumAt } = tumbling(machine, inputs.omega0_body, Math.max(...expected.times), 1e-3, 500)
    expect(expected.times.map((t) => rates.map((name) => at(name, t)))).toBeNear(expected.omega_body, { absolute: 1e-6 })
    const q = ['w', 'x', 'y', 'z'].map((one) => at(`stone.attitude.${one}`, 10))
    const sign = Math.sign(q.reduce((sum, value, i) => sum + value * expected.quat_wxyz_at_10s[i]!, 0))
    expect(q.map((value) => sign * value)).toBeNear(expected.quat_wxyz_at_10s, { absolute: 1e-6 })
    const last = expected.times[4]!
    expect(momentumAt(last)).toBeNear(expected.H_world, { absolute: 1e-8 })
    expect(at('energy.kinetic', last)).toBeNear(expected.kinetic, { relative: 1e-9 })
    const step = expected.period_s / 33_195 // the period in whole steps of about a millisecond
    const whole = tumbling(machine, inputs.omega0_body, expected.period_s, step, 33_195)
    expect(rates.map((name) => whole.at(name, expected.period_s))).toBeNear(inputs.omega0_body, { absolute: 1e-6 })
  })
})
