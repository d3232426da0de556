// Cases of handbooks against the whole way from a description to its answer.
import { describe, expect, it } from 'vitest'
import { bodilessPoint, mechanismPoint, modes } from '../control'
import { multiply, norm } from '../algebra'
import type { Complex } from '../algebra'
import { minimalRealization, poles, responseAt, transmissionZeros } from '../linear'
import { bodyPoses, fullMechanism, mechanismForm, mechanismMotion, neededEfforts, numbersOf } from '../machine'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart, mechanismPart, typedPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { cues } from './index'

type Pole = Complex

const byImaginary = (all: readonly Pole[]) => [...all].sort((a, b) => a.im - b.im || a.re - b.re)

describe('travels of a machine tool', () => {
  // Biagiotti & Melchiorri, Trajectory Planning for Automatic Machines and Robots, 2008, sections 3.2 and 3.4
  const travel = (name: string, slots: Readonly<Record<string, number>>) => {
    const cue = cues.find((one) => one.name === name)!
    const read = (slot: string) => ({ at: 0, ...slots })[slot]!
    const value = (t: number) => cue.value!(t, read, { kind: name }) as number
    return {
      lasts: cue.ends(read, { kind: name }) as number,
      value,
      speed: (t: number) => (value(t + 1e-6) - value(t - 1e-6)) / 2e-6,
    }
  }

  it.each(['act-trapezoid-0p3', 'act-trapezoid-2p0'])('a trapezoid takes its time and gets as fast as it says: %s', (id) => {
    const { inputs, expected } = reference<
      Record<'distance' | 'vmax' | 'amax', number>,
      Record<'total_time' | 'peak_velocity' | 'accel_time', number>
    >(id)
    const { lasts, speed } = travel('trapezoidCue', { by: inputs.distance, speed: inputs.vmax, acceleration: inputs.amax })
    expect(lasts).toBeNear(expected.total_time, { relative: 1e-9 })
    expect(speed(expected.accel_time - 1e-5)).toBeNear(expected.peak_velocity, { relative: 1e-4 })
  })

  it.each([0, 1, 2])('one with its jerk limited goes through the same places: case %i', (i) => {
    type Profile = Record<'total_time' | 'peak_velocity' | 'x_at_30pct' | 'v_at_30pct', number>
    const { inputs, expected } = reference<
      { D_vmax_amax_jmax: readonly (readonly [number, number, number, number])[] },
      { profiles: readonly Profile[] }
    >('act-scurve')
    const [by, speed, acceleration, jerk] = inputs.D_vmax_amax_jmax[i]!
    const wanted = expected.profiles[i]!
    const cue = travel('sCurveCue', { by, speed, acceleration, jerk })
    expect(cue.lasts).toBeNear(wanted.total_time, { relative: 1e-8 })
    expect(cue.value(0.3 * wanted.total_time)).toBeNear(wanted.x_at_30pct, { relative: 1e-8 })
    expect(cue.speed(0.3 * wanted.total_time)).toBeNear(wanted.v_at_30pct, { relative: 1e-6 })
    expect(cue.speed(0.5 * wanted.total_time)).toBeNear(wanted.peak_velocity, { relative: 1e-6 })
  })
})

describe('a plant whose only zero no element shows', () => {
  // Skogestad & Postlethwaite, Multivariable Feedback Control, 2005, section 4.5 (number from memory)
  const { expected } = reference<
    object,
    { poles_minimal: number[]; mcmillan_degree: number; transmission_zeros: number[]; input_zero_direction_at_4: number[] }
  >('lti-mimo-zero-skogestad')
  // element by element: (s-1)/(s+2) = 1 - 3/(s+2), and so on
  const plant = {
    a: [0, 1, 2, 3].map((i) => [0, 1, 2, 3].map((j) => (i === j ? -2 : 0))),
    ...{ b: [[1, 0], [0, 1], [1, 0], [0, 1]], c: [[-3, 4, 0, 0], [0, 0, 4.5, -6]], d: [[1, 0], [0, 2]], dt: null }, // prettier-ignore
    ...{ states: ['a', 'b', 'c', 'd'], inputs: ['u', 'v'], outputs: ['y', 'z'] },
  }

  it('has one state and one zero', () => {
    const small = minimalRealization(plant)
    expect(small.a).toHaveLength(expected.mcmillan_degree)
    expect((poles(small) ?? []).map(({ re }) => re)).toBeNear(expected.poles_minimal, { absolute: 1e-8 })
    expect((transmissionZeros(plant) ?? []).map(({ re }) => re)).toBeNear(expected.transmission_zeros, { absolute: 1e-8 })
  })

  it('lets nothing through at it, along its direction', () => {
    const at = responseAt(plant, { re: 4, im: 0 })!.map((row) => row.map(({ re }) => re))
    const through = multiply(
      at,
      expected.input_zero_direction_at_4.map((one) => [one]),
    )
    expect(norm(through.flat())).toBeLessThan(1e-9)
    expect(norm(at.flat())).toBeGreaterThan(1)
  })
})

describe('a quarter of a vehicle', () => {
  // Hrovat, Automatica 33 (1997)
  const { inputs, expected } = reference<
    Record<'ms' | 'mu' | 'ks' | 'cs' | 'kt', number>,
    { poles: Pole[]; static_tyre_deflection: number }
  >('veh-quartercar')
  const up = { axis: [0, 0, 1] }
  const spring = (joint: string, stiffness: number, damping: number) => ({
    kind: 'jointSpring',
    joint,
    stiffness,
    damping,
    rest: 0,
  })
  const machine = mechanismPart(
    {
      wheel: bodyPart(inputs.mu, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'ground', [0, 0, 0.3], up)),
      body: bodyPart(inputs.ms, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'wheel', [0, 0, 0.4], up)),
    },
    { forces: { tyre: spring('wheel.travel', inputs.kt, 0), strut: spring('body.travel', inputs.ks, inputs.cs) } },
  )
  const point = expectDone(mechanismPoint(machine, fullMechanism))

  it('swings at the poles of its formula', () => {
    const found = expectDone(modes(point.system)).flatMap(({ pole }) =>
      pole.im === 0 ? [pole] : [pole, { re: pole.re, im: -pole.im }],
    )
    expect(byImaginary(found)).toBeNear(byImaginary(expected.poles), { relative: 1e-8 })
  })

  it('presses its tyre as its weight says', () => {
    expect(-point.states[0]!).toBeNear(expected.static_tyre_deflection, { relative: 1e-8 })
  })
})

describe('a vehicle that is steered, as one track', () => {
  // Gillespie, Fundamentals of Vehicle Dynamics, 1992, chapter 6
  type Case = { eig: Pole[]; yaw_rate_gain: number; beta_gain: number; stable: boolean }
  const { inputs, expected } = reference<
    Record<'m' | 'Iz' | 'lf' | 'lr' | 'Cf' | 'Cr', number> & { speeds: readonly number[] },
    { cases: Readonly<Record<string, Case>> }
  >('veh-bicycle')
  const { m, Iz, lf, lr, Cf, Cr } = inputs

  it.each(inputs.speeds)('written down as equations answers as its closed form, at %d m/s', (speed) => {
    const wanted = expected.cases[`V=${speed}`]!
    const [front, rear] = ['Cf * (steer - slip - lf * yaw / v)', 'Cr * (lr * yaw / v - slip)']
    const machine = typedPart(
      { slip: ['0', `(${front} + ${rear}) / (m * v) - yaw`], yaw: ['0', `(lf * ${front} - lr * ${rear}) / inertia`] },
      { steer: 0 },
      { constants: { Cf, Cr, lf, lr, m, inertia: Iz, v: speed } },
    )
    const { system } = expectDone(bodilessPoint(machine, fullMechanism))
    expect(byImaginary(poles(system) ?? [])).toBeNear(byImaginary(wanted.eig), { relative: 1e-8 })
    const still = responseAt(system, { re: 0, im: 0 })!
    const gain = (name: string) => still[system.outputs.indexOf(name)]![0]!.re
    expect(gain('yaw')).toBeNear(wanted.yaw_rate_gain, { relative: 1e-8 })
    expect(gain('slip')).toBeNear(wanted.beta_gain, { absolute: 1e-8 })
  })
})

describe('a uniform rod on its end', () => {
  // Meriam & Kraige, Engineering Mechanics: Dynamics
  const { inputs, expected } = reference<
    { uniform_rod_length: number; mass: number; g: number },
    { period_small: number; initial_accel_horizontal: number }
  >('rbd-percussion-foucault')
  const { uniform_rod_length: length, mass, g } = inputs
  const across = (mass * length ** 2) / 12
  const rod = (start: number) =>
    mechanismPart(
      { rod: bodyPart(mass, [0, 0, -length / 2], [across, across, 0], jointPart('turning', 'ground', [0, 0, 2], { axis: [0, -1, 0], start })) }, // prettier-ignore
      { gravity: g },
    )

  it('swings with the period of its formula', () => {
    const [mode] = expectDone(modes(expectDone(mechanismPoint(rod(0), fullMechanism)).system))
    expect((2 * Math.PI) / mode!.frequency).toBeNear(expected.period_small, { relative: 1e-8 })
  })

  it('starts from the horizontal as fast as it says', () => {
    const machine = rod(Math.PI / 2)
    const read = numbersOf(machine)
    const { rates } = mechanismMotion(machine, read, fullMechanism, mechanismForm(machine, read), [Math.PI / 2, 0], [], [])
    expect(Math.abs(rates[1] as number)).toBeNear(expected.initial_accel_horizontal, { relative: 1e-8 })
  })
})

describe('a leg of three joints', () => {
  // elementary geometry
  const { inputs, expected } = reference<
    { L_offset_thigh_shank: [number, number, number]; q: number[]; ground_force_on_foot_world: [number, number, number] },
    { foot: number[]; joint_torque_to_balance: number[] }
  >('kin-leg')
  const [offset, thigh, shank] = inputs.L_offset_thigh_shank
  const [x, y, z] = inputs.ground_force_on_foot_world
  const none: [number, number, number] = [0, 0, 0]
  const leg = mechanismPart(
    {
      hip: bodyPart(0, none, none, jointPart('turning', 'ground', none, { axis: [1, 0, 0] })),
      upper: bodyPart(0, none, none, jointPart('turning', 'hip', [0, offset, 0], { axis: [0, 1, 0] })),
      lower: bodyPart(0, none, none, jointPart('turning', 'upper', [0, 0, -thigh], { axis: [0, 1, 0] })),
    },
    {
      gravity: 0,
      forces: { ground: { kind: 'formulaForce', body: 'lower', at: [0, 0, -shank], x: String(x), y: String(y), z: String(z) } },
    },
  )
  const read = numbersOf(leg)
  const form = mechanismForm(leg, read)

  it('puts its foot where geometry says', () => {
    const { rotation, position } = bodyPoses(form.assembly.tree, inputs.q).at(-1)!
    const foot = position.map((value, i) => (value as number) - shank * (rotation[i]![2] as number))
    expect(foot).toBeNear(expected.foot, { absolute: 1e-8 })
  })

  it('balances the ground with the torques of its Jacobian', () => {
    const still = [0, 0, 0]
    const efforts = neededEfforts(leg, read, fullMechanism, form, { q: inputs.q, speeds: still, accelerations: still })
    expect(efforts).toBeNear(expected.joint_torque_to_balance, { absolute: 1e-8 })
  })
})
