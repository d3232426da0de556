import { describe, expect, it } from 'vitest'
import type { Part } from '../../document'
import { Graph, jacobianAt } from '../../expression'
import { bodyPart, jointPart, mechanismPart } from '../../tests/parts'
import { reference } from '../../tests/reference'
import { fullMechanism, machineProblems, mechanismForm, mechanismMotion, numbersOf } from '../index'
import type { MechanismLayers } from './effect'

/** A disc of unit inertia on a level axis through its centre, so that gravity has no say. */
function disc(drives: Record<string, Part>, inertia = 1, forces: Record<string, Part> = {}): Part {
  const body = bodyPart(1, [0, 0, 0], [inertia, inertia, inertia], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 1] }))
  return mechanismPart({ disc: body }, { drives, forces })
}

function equationsOf(machine: Part, layers: MechanismLayers = fullMechanism) {
  expect(machineProblems('machine', machine)).toEqual([])
  const read = numbersOf(machine)
  const form = mechanismForm(machine, read)
  const count = form.states.length
  return {
    form,
    at: (states: readonly number[], inputs: readonly number[], time = 0) =>
      mechanismMotion(machine, read, layers, form, states, inputs, [], time),
    /** Derivatives of the rates by states and inputs. */
    slopes: (states: readonly number[], inputs: readonly number[]) => {
      const graph = new Graph()
      const slots = [...states, ...inputs].map((_, i) => graph.slot(i))
      const { rates } = mechanismMotion(machine, read, layers, form, slots.slice(0, count), slots.slice(count), [])
      return jacobianAt(
        [...rates],
        slots.map((_, i) => i),
        Float64Array.of(...states, ...inputs),
      )
    },
  }
}

const without = (...left: string[]): MechanismLayers => new Set([...fullMechanism].filter((layer) => !left.includes(layer)))

describe('a motor by its data sheet', () => {
  // Franklin, Powell & Emami-Naeini, Feedback Control of Dynamic Systems, sec. 2.3; closed forms
  interface Sheet {
    inputs: { V: number; R: number; L: number; kt: number; J: number; b: number; TL: number }
    expected: {
      no_load_speed: number
      no_load_current: number
      stall_current: number
      stall_torque: number
      loaded_speed: number
      loaded_current: number
      poles: readonly { re: number }[]
    }
  }
  const { inputs, expected } = reference<Sheet['inputs'], Sheet['expected']>('act-dcmotor')
  const sheet: Part = {
    kind: 'sheetMotor',
    joint: 'disc.angle',
    voltage: inputs.V,
    stallTorque: expected.stall_torque,
    stallCurrent: expected.stall_current,
    freeSpeed: expected.no_load_speed,
    freeCurrent: expected.no_load_current,
    inductance: inputs.L,
    rotorInertia: 0,
    gear: 1,
  }
  const { at, slopes } = equationsOf(disc({ motor: sheet }, inputs.J))

  it('runs free and under load as the published one', () => {
    const free = at([0, expected.no_load_speed, expected.no_load_current], [inputs.V])
    expect((free.rates[1] as number) * inputs.J).toBeNear(0, { absolute: 1e-12 * expected.stall_torque })
    expect((free.rates[2] as number) * inputs.L).toBeNear(0, { absolute: 1e-12 * inputs.V })
    const loaded = at([0, expected.loaded_speed, expected.loaded_current], [inputs.V])
    expect((loaded.rates[1] as number) * inputs.J).toBeNear(inputs.TL, { relative: 1e-9 })
    expect((loaded.rates[2] as number) * inputs.L).toBeNear(0, { absolute: 1e-9 })
  })

  it('has the published poles', () => {
    const [, speed, current] = slopes([0, 0, 0], [0])
    const [trace, determinant] = [speed![1]! + current![2]!, speed![1]! * current![2]! - speed![2]! * current![1]!]
    expect(trace).toBeNear(expected.poles[0]!.re + expected.poles[1]!.re, { relative: 1e-9 })
    expect(determinant).toBeNear(expected.poles[0]!.re * expected.poles[1]!.re, { relative: 1e-9 })
  })

  it('is refused where its figures contradict one another, until they agree', () => {
    const inTurnsAMinute = { ...sheet, freeSpeed: (expected.no_load_speed * 60) / (2 * Math.PI) }
    const [problem] = machineProblems('machines.m', disc({ motor: inTurnsAMinute }, inputs.J))
    expect(problem).toMatchObject({ where: 'machines.m.drives.motor.freeSpeed' })
    expect(problem!.what).toMatch(/contradicts itself.*397\.4 rad\/s/)
    expect(machineProblems('machines.m', disc({ motor: sheet }, inputs.J))).toEqual([])
  })

  it('adds the inertia of its rotor, seen through the gear', () => {
    const geared = { ...sheet, rotorInertia: 2e-5, gear: 30 }
    const one = equationsOf(disc({ motor: geared }, 0.01)).at([0, 0, 3], [0])
    const other = equationsOf(disc({ motor: { ...geared, rotorInertia: 0 } }, 0.01 + 900 * 2e-5)).at([0, 0, 3], [0])
    expect(one.rates[1] as number).toBeNear(other.rates[1] as number, { relative: 1e-13 })
  })
})

describe('a servo of second order', () => {
  interface Servo {
    inputs: { wn: number; zeta: number; w: number; rate_limit_rad_s: number }
    expected: {
      gain_at_w: number
      phase_deg_at_w: number
      bandwidth_3dB: number
      max_sine_amplitude_before_rate_limit_output: number
    }
  }
  const { inputs, expected } = reference<Servo['inputs'], Servo['expected']>('act-servo2')
  const part: Part = {
    kind: 'servo',
    joint: 'disc.angle',
    bandwidth: inputs.wn,
    damping: inputs.zeta,
    least: -1,
    most: 1,
    mostRate: inputs.rate_limit_rad_s,
    stiffness: 100,
    holding: 5,
    mostEffort: 30,
  }
  const { at, slopes, form } = equationsOf(disc({ steer: part }))

  it('answers a sine with the published gain and phase', () => {
    const [, , model, rate] = slopes([0, 0, 0, 0], [0])
    const [own, byRate, input] = [rate![2]!, rate![3]!, rate![4]!]
    expect(model).toEqual([0, 0, 0, 1, 0])
    const response = (w: number) => {
      const [re, im] = [-(w ** 2) - own, -w * byRate] // input / (s² - byRate s - own)
      const size = input / Math.hypot(re, im)
      return { size, degrees: (-Math.atan2(im, re) * 180) / Math.PI }
    }
    expect(response(inputs.w).size).toBeNear(expected.gain_at_w, { relative: 1e-9 })
    expect(response(inputs.w).degrees).toBeNear(expected.phase_deg_at_w, { relative: 1e-9 })
    expect(response(expected.bandwidth_3dB).size).toBeNear(Math.SQRT1_2, { relative: 1e-8 })
  })

  it('moves no faster than its rate, which a sine of the published size just reaches', () => {
    const amplitude = expected.max_sine_amplitude_before_rate_limit_output
    const rateOf = (rate: number) => at([0, 0, 0, rate], [0]).rates[2]
    expect(rateOf(amplitude * inputs.w)).toBe(inputs.rate_limit_rad_s)
    expect(rateOf(1.5 * amplitude * inputs.w)).toBe(inputs.rate_limit_rad_s)
    expect(rateOf(0.5 * amplitude * inputs.w)).toBeNear(0.5 * inputs.rate_limit_rad_s, { relative: 1e-14 })
  })

  it('keeps within its travel and effort, and asks for positions in the unit of its joint', () => {
    expect(at([0, 0, 0, 0], [5]).rates[3]).toBe(at([0, 0, 0, 0], [1]).rates[3])
    expect(at([0, 0, 1, 0], [1]).rates[1]).toBe(30)
    expect(form.inputs[0]!.unit).toBe('rad')
    expect(form.states.slice(2).map(({ unit }) => unit)).toEqual(['rad', 'rad/s'])
  })
})

describe('a gear that gives', () => {
  const part: Part = {
    kind: 'gearMotor',
    joint: 'disc.angle',
    gear: 10,
    stiffness: 2000,
    damping: 0,
    play: 0.02,
    efficiency: 0.8,
    rotorInertia: 1e-4,
    resistance: 1,
    inductance: 0.001,
    constant: 0.05,
    drag: 0,
    voltage: 24,
  }
  const { at } = equationsOf(disc({ motor: part }))
  const accelerationAt = (turn: number, speed = 0) => at([0, 0, 0, turn, speed], [0]).rates[1] as number

  it('passes nothing inside its play and its stiffness beyond', () => {
    expect(accelerationAt(0.09)).toBe(0)
    expect(accelerationAt(-0.09)).toBe(0)
    expect(accelerationAt(0.1 + 10 * 0.003)).toBeNear(2000 * 0.003, { relative: 1e-12 })
    expect(accelerationAt(-0.1 - 10 * 0.003)).toBeNear(-2000 * 0.003, { relative: 1e-12 })
  })

  it('loses its share of the power passed on, either way', () => {
    const turn = 0.1 + 10 * 0.003 // the teeth press forward with 6 N·m
    const rotor = (speed: number) => -(at([0, speed / 10, 0, turn, speed], [0]).rates[4] as number) * 1e-4
    // driving, the shaft needs 6/10/0.8; driven, only 6/10 · 0.8 comes back (common practice, no source)
    expect(rotor(80)).toBeNear(0.6 / 0.8, { relative: 1e-6 })
    expect(rotor(-80)).toBeNear(0.6 * 0.8, { relative: 1e-6 })
  })

  it('is a stiff gear with its rotor on the joint when that layer is off', () => {
    const stiff = equationsOf(disc({ motor: part }), without('gears')).at([0, 0, 2, 0, 0], [0])
    expect(stiff.rates[1] as number).toBeNear((10 * 0.05 * 2) / (1 + 100 * 1e-4), { relative: 1e-12 })
  })
})

describe('a battery', () => {
  const cell: Part = { kind: 'battery', full: 25, empty: 20, resistance: 0.1, capacitance: 0.01, charge: 1000, taken: 0 }
  const motor: Part = {
    kind: 'dcMotor',
    joint: 'disc.angle',
    resistance: 1,
    inductance: 0.001,
    constant: 0.05,
    gear: 1,
    drag: 0,
    voltage: 30,
    supply: 'cell',
  }
  const machine = disc({ cell, motor })
  const { at, form } = equationsOf(machine)

  it('starts full, sags by its resistance, and empties by what is drawn', () => {
    expect(form.states.map(({ atRest }) => atRest)).toEqual([0, 0, 25, 0, 0])
    // 10 A through the motor at 20 V are 200 W; the battery at 23 V gives 2/0.1 = 20 A
    const { rates, power } = at([0, 0, 23, 0, 10], [20])
    expect(rates[2] as number).toBeNear((20 - 200 / 23) / 0.01, { relative: 1e-12 })
    expect(rates[3]).toBeNear(20, { relative: 1e-12 })
    expect(power.supplied as number).toBeNear(25 * 20, { relative: 1e-12 })
    // half empty, the open voltage has fallen half way
    expect(at([0, 0, 22.5, 500, 0], [0]).rates[3] as number).toBeNear(0, { absolute: 1e-9 })
  })

  it('limits the voltage that its drives can use', () => {
    const currentRate = (voltage: number) => at([0, 0, voltage, 0, 0], [30]).rates[4] as number
    expect(currentRate(22)).toBeNear(22 / 0.001, { relative: 1e-12 })
    const unsagging = equationsOf(machine, without('battery')).at([0, 0, 22, 0, 0], [30])
    expect(unsagging.rates[4] as number).toBeNear(25 / 0.001, { relative: 1e-12 })
  })

  it('must exist where a drive names it', () => {
    const [problem] = machineProblems('machines.m', disc({ cell, motor: { ...motor, supply: 'sell' } }))
    expect(problem).toMatchObject({ where: 'machines.m.drives.motor.supply', remedy: 'Did you mean cell?' })
  })
})
