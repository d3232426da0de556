import { describe, expect, it } from 'vitest'
import type { Part } from '../../document'
import { bodyPart, jointPart, mechanismPart, plausible } from '../../tests/parts'
import { numbersFrom } from '../../tests/randomGraph'
import { fullMechanism, mechanismForm, mechanismLayers, mechanismMotion, numbersOf } from '../index'
import { drives, effects, forces } from './index'

/** Two bodies, one swinging on the other and sliding out of it, with one effect. */
function withEffect(effect: Part): Part {
  return mechanismPart(
    {
      beam: bodyPart(4, [0.1, 0.05, -0.2], [0.2, 0.3, 0.25], jointPart('turning', 'ground', [0, 0, 1], { axis: [0.2, 1, 0] })),
      plunger: bodyPart(
        1.5,
        [0, 0.02, -0.1],
        [0.02, 0.02, 0.01],
        jointPart('sliding', 'beam', [0.3, 0, -0.4], { axis: [0, 0.3, -1] }),
      ),
    },
    drives.some(({ name }) => name === effect.kind) ? { drives: { it: effect } } : { forces: { it: effect } },
  )
}

const names = {
  joint: 'beam.angle',
  from: 'beam',
  to: 'plunger',
  body: 'plunger',
  effort: '3 * cos(2 * t) - 2 * beam.angle * plunger.rate',
  x: '2 * px - vx * abs(vz)',
  y: 'sin(beam.angle)',
  z: '4 - tanh(py)',
}
/** Numbers of a size at which something happens, by slot. */
const sizes: Readonly<Record<string, number>> = {
  stiffness: 400,
  damping: 12,
  rest: 0.1,
  length: 0.3,
  longest: 0.9,
  stroke: 0.8,
  extended: 150,
  ratio: 1.6,
  least: -0.05,
  most: 0.05,
  level: 0.6,
  radius: 0.1,
  friction: 0.6,
  smooth: 0.02,
  grip: 800,
  slow: 0.05,
  rolling: 0.02,
  stribeck: 0.05,
  sliding: 2,
  breakaway: 3,
  viscous: 0.4,
  linear: 0.8,
  quadratic: 0.5,
  fromAt: 0.2,
  toAt: 0.05,
  at: 0.03,
  voltage: 24,
  resistance: 1.2,
  inductance: 0.002,
  constant: 0.08,
  gear: 40,
  drag: 1e-4,
  rotorInertia: 2e-5,
  stallTorque: 0.9,
  stallCurrent: 12,
  freeSpeed: 300,
  freeCurrent: 0.5,
  play: 0.1,
  efficiency: 0.8,
  full: 25,
  empty: 20,
  capacitance: 0.01,
  charge: 4000,
  taken: 100,
  mostRate: 0.3,
  holding: 20,
  mostEffort: 60,
  lag: 0.05,
  bandwidth: 30,
  thrust: 2e-5,
  torque: 4e-7,
  solidity: 0.1,
  liftSlope: 5.7,
}

describe.each(effects)('$label', (kind) => {
  const part = plausible(kind, names, (slot) => sizes[slot] ?? 1)
  const machine = withEffect(part)
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const at = (states: readonly number[], inputs: readonly number[]) =>
    mechanismMotion(machine, read, fullMechanism, form, states, inputs, [])
  const energyOf = (states: readonly number[], inputs: readonly number[]) => {
    const { energy } = at(states, inputs)
    return (energy.kinetic as number) + (energy.potential as number) + (energy.stored as number)
  }

  it.each([1, 2, 3, 4, 5, 6])('takes and gives the power that it says, in state %i', (seed) => {
    const next = numbersFrom(seed * 7919)
    const states = form.states.map(({ atRest }) => atRest + 1.2 * (next() - 0.5))
    const inputs = form.inputs.map(() => 4 * next())
    const { rates, power } = at(states, inputs)
    const h = 1e-6
    const shifted = (by: number) => states.map((value, i) => value + by * (rates[i] as number))
    const change = (energyOf(shifted(h), inputs) - energyOf(shifted(-h), inputs)) / (2 * h)
    const balance = (power.supplied as number) - (power.dissipated as number)
    expect(change).toBeNear(balance, { relative: 1e-5, absolute: 1e-5 }) // a central difference
    expect(power.dissipated as number).toBeGreaterThanOrEqual(-1e-12)
  })

  it('has a sentence whose slots are its own, and names for what it shows', () => {
    for (const [, slot] of kind.says.matchAll(/\{(\w+)#?\}/g)) expect(Object.keys(kind.slots)).toContain(slot)
    const { signals } = at(
      form.states.map(() => 0.1),
      form.inputs.map(() => 1),
    )
    for (const { label, name, value } of signals) {
      expect(label).not.toBe('')
      expect(name).toMatch(/^(forces|drives)\.it\./)
      expect(Number.isFinite(value)).toBe(true)
    }
  })
})

describe('lists of effects', () => {
  it('hold each once, and every layer says what stands in', () => {
    expect(new Set(effects.map(({ name }) => name)).size).toBe(forces.length + drives.length)
    for (const { standIn } of mechanismLayers) expect(standIn).not.toBe('')
  })
})

describe('a direct-current motor', () => {
  // the two lines of a data sheet: stall torque k V/R at no speed, no-load speed V/k with no torque (common practice,
  // no source); stand-in without drive dynamics
  const motor = {
    ...plausible(
      drives.find(({ name }) => name === 'dcMotor')!,
      names,
      (slot) => sizes[slot] ?? 1,
    ),
    drag: 0,
  }
  const machine = withEffect(motor)
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const settled = new Set([...fullMechanism].filter((layer) => layer !== 'driveDynamics'))
  const effortAt = (speed: number) => {
    const { signals } = mechanismMotion(machine, read, settled, form, [0, 0, speed, 0, 0], [24], [])
    return signals.find(({ name }) => name === 'drives.it.effort')!.value
  }

  it('stalls at the torque of its data and runs free at the speed of its data', () => {
    expect(effortAt(0)).toBeNear((40 * 0.08 * 24) / 1.2, { relative: 1e-14 })
    expect(effortAt(24 / 0.08 / 40)).toBeNear(0, { absolute: 1e-12 })
  })

  it('gives no more than its voltage lets it, unless that layer is off', () => {
    const asked = (voltage: number, layers: typeof fullMechanism) =>
      mechanismMotion(machine, read, layers, form, [0, 0, 0, 0, 0], [voltage], []).signals[1]!.value
    expect(asked(48, settled)).toBe(asked(24, settled))
    const unlimited = new Set([...settled].filter((layer) => layer !== 'driveLimits'))
    expect(asked(48, unlimited)).toBeNear(2 * (asked(24, settled) as number), { relative: 1e-14 })
  })
})
