import { describe, expect, it } from 'vitest'
import { Graph, assign, loadModule, printWasm } from '../expression'
import { replaceAt } from '../document'
import type { Part } from '../document'
import { energyAndMomentum, fullRealism, motion, numbersOf, stateList } from '../machine'
import type { Layers } from '../machine'
import { lamplighter } from '../tests/demo'
import { reference } from '../tests/reference'
import { Layout, equationSlots, rungeKutta4, slotOf } from './index'

/** The demo's machine as one body with these moments, without gravity; rotors as the layers say. */
function freeBody(inertia: readonly number[], mass = 1): Part {
  const machine = lamplighter().machines.lamplighter!
  const body = { ...(machine.bodies as Record<string, Part>).hull!, mass, at: [0, 0, 0], inertia: [...inertia, 0, 0, 0] }
  return replaceAt(replaceAt(replaceAt(machine, 'bodies', { hull: body }), 'gravity', 0), 'drag', 0)
}

const rigid: Layers = new Set([...fullRealism].filter((layer) => layer !== 'rotorLag' && layer !== 'rotorLimits'))

/** Flies a machine without thrust from some rates; gives the state at each time. */
function tumble(machine: Part, omega: readonly number[], h: number, times: readonly number[]): Float64Array[] {
  const layout = new Layout(new Graph())
  const infos = stateList(machine, rigid)
  const equation = equationSlots(layout, infos.length)
  const { rates } = motion(machine, numbersOf(machine), rigid, equation.stage, [0, 0, 0, 0, 0, 0])
  const derivative = {
    name: 'derivative',
    body: [assign(rates.map((value, i) => ({ slot: slotOf(equation.slope[i]!), value })))],
  }
  const module = loadModule(printWasm({ slots: layout.slots, procedures: [derivative, rungeKutta4(layout, equation, h)] }))
  const memory = module.memory()
  const first = slotOf(equation.x[0]!)
  memory.set(
    infos.map(({ atRest }) => atRest),
    first,
  )
  memory.set(omega, first + 10)
  let done = 0
  return times.map((t) => {
    for (; done < Math.round(t / h); done++) module.call('rk4')
    return memory.slice(first, first + infos.length)
  })
}

describe('a free rigid body', () => {
  it('keeps its energy and angular momentum over 100 s to 1e-9', () => {
    const machine = freeBody([0.06, 0.058, 0.104], 3.4)
    const read = numbersOf(machine)
    const [start, end] = tumble(machine, [1.1, -0.7, 2.3], 1e-3, [0, 100])
    const [before, after] = [energyAndMomentum(machine, read, [...start!]), energyAndMomentum(machine, read, [...end!])]
    expect(after.energy).toBeNear(before.energy, { relative: 1e-9 })
    expect(after.momentum).toBeNear(before.momentum, { relative: 1e-9 })
    // of places, its height alone stores something: m g h
    const heavy = numbersOf(replaceAt(machine, 'gravity', 9.81))
    const raised = [...start!].map((value, i) => (i < 3 ? value + [5, 7, 3][i]! : value))
    const [high, low] = [raised, [...start!]].map((states) => energyAndMomentum(machine, heavy, states).energy as number)
    expect(high! - low!).toBeNear(3 * 3.4 * 9.81, { relative: 1e-12 })
  })

  it('tumbles as the Jacobi-elliptic solution says', () => {
    // Landau & Lifshitz, Mechanics, 3rd ed., section 37 (from memory); figures by an eighth-order method at 1e-13
    interface Top {
      readonly inputs: { I_kg_m2: number[]; omega0_body: number[] }
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
    const states = tumble(machine, inputs.omega0_body, 1e-3, [...expected.times])
    expect(states.map((state) => [...state.slice(10, 13)])).toBeNear(expected.omega_body, { absolute: 1e-6 })
    const q = [...states[2]!.slice(3, 7)]
    const sign = Math.sign(q.reduce((sum, value, i) => sum + value * expected.quat_wxyz_at_10s[i]!, 0))
    expect(q.map((value) => sign * value)).toBeNear(expected.quat_wxyz_at_10s, { absolute: 1e-6 })
    const { energy, momentum } = energyAndMomentum(machine, numbersOf(machine), [...states[4]!])
    expect(momentum).toBeNear(expected.H_world, { absolute: 1e-8 })
    expect(energy).toBeNear(expected.kinetic, { relative: 1e-9 })
    const step = expected.period_s / 33_195 // the period in whole steps of about a millisecond
    const [back] = tumble(machine, inputs.omega0_body, step, [expected.period_s])
    expect([...back!.slice(10, 13)]).toBeNear(inputs.omega0_body, { absolute: 1e-6 })
  })
})
