import { describe, expect, it } from 'vitest'
import { multiply, product, rotation, transposedRows, applied } from '../algebra'
import type { Quaternion, Vector } from '../algebra'
import { partsIn } from '../document'
import type { Part } from '../document'
import type { StateSpace } from '../linear'
import { Graph, evaluation } from '../expression'
import { closeChains, closedPose, fullMechanism, mechanismForm, mechanismMotion, numbersOf } from '../machine'
import type { AnyLayer, MechanismLayerName } from '../machine'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { bodyPart, fourBar, jointPart, mechanismPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { linearFormAt } from './mechanismForm'
import { pointEquations } from './pointEquations'
import { designPoint, mechanismPoint, modes } from './index'

const g = 9.80665
const ground: [number, number, number] = [0, 0, 0]

/** Conditions of an operating point: what keeps a value, and what runs on. */
function about(machine: Part, fixed: Readonly<Record<string, number>>, running: readonly string[]): Part {
  const keeps = Object.entries(fixed).map(([signal, value], i) => [`keeps${i}`, { kind: 'condition', signal, value }] as const)
  const runs = running.map((signal, i) => [`runs${i}`, { kind: 'runsOn', signal }] as const)
  return { ...machine, conditions: Object.fromEntries([...keeps, ...runs]) } as unknown as Part
}

const frequencies = (system: StateSpace) =>
  expectDone(modes(system))
    .map(({ pole }) => Math.abs(pole.im))
    .sort((a, b) => a - b)

const flying = lamplighter().machines.lamplighter!
const readingOf = (name: string) => `readings.${/heading|roll|pitch/.test(name) ? 'attitude' : 'place'}.${name}`
const velocity: Part = {
  kind: 'velocityReading',
  body: Object.keys(partsIn(flying.bodies))[0]!,
  at: partsIn(flying.readings).place!.at,
  through: 'ground',
} as never
const hull = Object.keys(partsIn(flying.bodies))[0]!
const places = ['x', 'y', 'z'].map((axis) => `${hull}.${axis}`)

describe('steady flight of bodies on joints', () => {
  const machine = { ...flying, readings: { ...(flying.readings as object), own: velocity } } as unknown as Part
  const layers = new Set<AnyLayer>(['driveDynamics', 'air'])

  it('tells which places run on and how fast', () => {
    const point = expectDone(
      mechanismPoint({ ...machine }, layers as never, {
        running: places,
        fixed: new Map([
          [readingOf('eastRate'), 6],
          [readingOf('northRate'), 0],
          [readingOf('climbRate'), 0],
        ]),
      }),
    )
    expect(point.runs[`${hull}.x`]).toBeNear(6, { relative: 1e-9 })
    expect(point.runs[readingOf('east')]).toBeNear(6, { relative: 1e-9 })
    expect(point.runs[readingOf('height')]).toBeUndefined()
    expect(point.leaves).toBeLessThan(1e-6)
  })

  it('turns as a banked turn does', () => {
    const { inputs, expected } = reference('air-turn') as never as {
      inputs: Record<string, number>
      expected: Record<string, number> & { body_rates_p_q_r: number[] }
    }
    const still = { ...machine, forces: {}, gravity: inputs.g } as unknown as Part
    const slow = new Set<MechanismLayerName>(['driveDynamics'])
    const bank = (inputs.bank_deg! * Math.PI) / 180
    const fixed = { [readingOf('roll')]: bank, 'readings.own.ahead': inputs.V!, 'readings.own.left': 0 }
    const point = expectDone(designPoint(about(still, fixed, [`${hull}.x`, `${hull}.y`, `${hull}.heading`]), undefined, slow))
    const value = (name: string) => point.states[point.form.states.findIndex((one) => one.name === name)]!
    // y to the left and z up here, y to the right and z down there
    const [p, q, r] = expected.body_rates_p_q_r as [number, number, number]
    expect([`${hull}.wx`, `${hull}.wy`, `${hull}.wz`].map(value)).toBeNear([p, -q, -r], { absolute: 1e-8 })
    expect(point.runs[readingOf('heading')]).toBeNear(-expected.turn_rate_rad_s!, { relative: 1e-7 })
    const weight = expectDone(designPoint(still, undefined, slow)).asked['pushes.lift']!
    expect(point.asked['pushes.lift']! / weight).toBeNear(expected.load_factor!, { relative: 1e-7 })
    // a place of the world, seen from what turns, has no linear form that stays
    expect(point.system.outputs).not.toContain(readingOf('eastRate'))
    expect(point.system.outputs).toContain('readings.own.ahead')
  })

  it('is refused where something would move that is not said to, and names it', () => {
    const stone = bodyPart(5, ground, [1, 1, 1], jointPart('free', 'ground', ground))
    const puck = mechanismPart({ stone }, { gravity: 0 })
    const outcome = designPoint(about(puck, { 'stone.vx': 3 }, ['stone.y']))
    expect(outcome.kind === 'refused' && outcome.problems[0]).toMatchObject({
      remedy: 'Let x of stone run on, or fix other values.',
    })
    const unsaid = designPoint(about(puck, { 'stone.vx': 3 }, []))
    expect(unsaid.kind === 'refused' && unsaid.problems[0]).toMatchObject({
      remedy: 'Let x of stone run on, or fix other values.',
    })
    const seen = { ...puck, readings: { own: { ...velocity, body: 'stone', at: ground } } } as unknown as Part
    const speed = designPoint(about(seen, { 'readings.own.ahead': 3 }, []))
    expect(speed.kind === 'refused' && speed.problems[0]).toMatchObject({
      what: 'Nothing balances the machine with speed ahead at 3 m/s: it stays 3 away from it.',
      remedy: /what moves with it is said to run on/,
    })
    expect(expectDone(designPoint(about(puck, { 'stone.vx': 3 }, ['stone.x']))).runs).toEqual({ 'stone.x': 3 })
  })

  it('keeps what is asked of a drive, and lets what it moves go', () => {
    const arm = bodyPart(2, [0, 0, -0.5], [0.02, 0.02, 0.02], jointPart('turning', 'ground', ground, { axis: [0, 1, 0] }))
    const machine = mechanismPart({ arm }, { drives: { hold: { kind: 'effortDrive', joint: 'arm.angle', most: 100 } } })
    const { states, inputs } = expectDone(designPoint(about(machine, { 'drives.hold': 4 }, [])))
    expect(Math.abs(Math.sin(states[0]!))).toBeNear(4 / (2 * g * 0.5), { relative: 1e-9 })
    expect(inputs).toEqual([4])
  })

  it('that goes on only for a moment says how much it leaves', () => {
    // let go with the speed of the bottom of its swing a pendulum is in balance for an instant only
    const bob = bodyPart(2, [0, 0, -0.5], [0.02, 0.02, 0.02], jointPart('turning', 'ground', ground, { axis: [0, 1, 0] }))
    const { leaves } = expectDone(designPoint(about(mechanismPart({ bob }), { 'bob.rate': 1, 'bob.angle': 0 }, ['bob.angle'])))
    expect(leaves).toBeNear((2 * g * 0.5 * Math.sin(1)) / (0.02 + 2 * 0.25), { relative: 1e-9 })
  })
})

describe('a spinning body', () => {
  it('free of all forces nutates as Euler says', () => {
    // H. Goldstein, Classical Mechanics, ch. 5, from memory: in its own axes (I3 - I1)/I1 times its spin
    const [across, along, spin] = [2, 3.5, 4]
    const stone = bodyPart(5, ground, [across, across, along], jointPart('free', 'ground', ground))
    const machine = mechanismPart({ stone }, { gravity: 0 })
    const { system, leaves } = expectDone(designPoint(about(machine, { 'stone.wz': spin }, ['stone.attitude'])))
    expect(leaves).toBeLessThan(1e-9)
    const own = (spin * (along - across)) / across
    // seen in axes that spin with it, a small turn that stands still in the world goes round at the spin, and so does a small way
    expect(frequencies(system)).toBeNear([own, spin, spin, spin, 0, 0, 0, 0].sort((a, b) => a - b).slice(0), { absolute: 1e-7 })
  })

  it('upright on a point stands while it spins fast enough', () => {
    // the sleeping top: I3² s² > 4 m g l I1, with I1 about the point. H. Goldstein, Classical Mechanics, ch. 5, from memory
    const [mass, length, across, along] = [0.4, 0.06, 0.0004, 0.0005]
    const about1 = across + mass * length * length
    const least = Math.sqrt(4 * mass * g * length * about1) / along
    const top = bodyPart(mass, [0, 0, length], [across, across, along], jointPart('ball', 'ground', ground))
    const worst = (spin: number) => {
      const point = expectDone(designPoint(about(mechanismPart({ top }), { 'top.zRate': spin }, ['top.heading'])))
      return Math.max(...expectDone(modes(point.system)).map(({ pole }) => pole.re))
    }
    expect(worst(1.01 * least)).toBeLessThan(1e-3)
    expect(worst(0.99 * least)).toBeGreaterThan(1)
  })

  it('on a vertical shaft throws its pendulum out: the governor', () => {
    // cos(angle) = g / (s² l) above the speed at which it lifts; it swings about that at s sin(angle)
    const [length, spin] = [0.3, 9]
    const z = { axis: [0, 0, 1] }
    const machine = mechanismPart({
      shaft: bodyPart(1, ground, [0.1, 0.1, 1e6], jointPart('turning', 'ground', ground, z)),
      bob: bodyPart(2, [0, 0, -length], ground, jointPart('turning', 'shaft', ground, { axis: [0, 1, 0], start: 0.9 })),
    })
    const point = expectDone(designPoint(about(machine, { 'shaft.rate': spin }, ['shaft.angle'])))
    const angle = Math.acos(g / (spin * spin * length))
    expect(Math.abs(point.states[1]!)).toBeNear(angle, { relative: 1e-9 })
    // a flywheel of a million times the bob's inertia holds the speed
    expect(Math.max(...frequencies(point.system))).toBeNear(spin * Math.sin(angle), { relative: 1e-4 })
  })
})

describe('the linear form about steady motion', () => {
  // a hull under way and turning, dragged at two points, with a mast on a spring that leans outward
  const machine: Part = mechanismPart(
    {
      boat: bodyPart(40, [0.1, 0.02, 0.05], [3, 8, 9], jointPart('free', 'ground', [0, 0, 500])),
      mast: bodyPart(2, [0, 0, 0.8], [0.2, 0.2, 0.01], jointPart('turning', 'boat', [0.2, 0, 0.3], { axis: [1, 0, 0] })),
    },
    {
      gravity: 0,
      forces: {
        drag: { kind: 'airDrag', body: 'boat', at: [-0.4, 0, 0], linear: 6, quadratic: 0 },
        fin: { kind: 'airDrag', body: 'boat', at: [0.5, 0.1, 0.2], linear: 2, quadratic: 0 },
        stay: { kind: 'jointSpring', joint: 'mast.angle', stiffness: 90, damping: 3, rest: 0 },
      },
      drives: Object.fromEntries(
        [0, 1, 2, 3, 4, 5].map((i) => [
          `fan${i}`,
          {
            ...{
              kind: 'rotor',
              body: 'boat',
              turns: i % 2 === 0 ? 'left' : 'right',
              radius: 0.2,
              thrust: 2e-4,
              torque: 3e-6,
              lag: 0.1,
            },
            at: [
              [0.5, 0.4, 0],
              [0.5, -0.4, 0],
              [-0.5, 0.1, 0.3],
              [-0.5, 0, -0.3],
              [0.1, 0.6, 0.1],
              [0, -0.5, 0.2],
            ][i],
            axis: [
              [1, 0, 0.1],
              [1, 0.1, 0],
              [0, 1, 0],
              [0.2, -1, 0],
              [0, 0.2, 1],
              [0.1, 0, -1],
            ][i],
            ...{ least: 0, most: 900 },
          },
        ]),
      ),
    },
  )
  const running = ['boat.x', 'boat.y', 'boat.z', 'boat.attitude']
  const fixed = { 'boat.vx': 3, 'boat.vy': 0.3, 'boat.vz': -0.2, 'boat.wx': 0.1, 'boat.wy': -0.2, 'boat.wz': 0.5 }
  const layers = new Set<MechanismLayerName>(['driveDynamics', 'air'])

  it('is what the full motion does a little beside it, seen from where it would be by now', () => {
    const point = expectDone(mechanismPoint(machine, layers, { running, fixed: new Map(Object.entries(fixed)) }))
    const { system, form, states, asked, residual, leaves } = point
    expect(residual).toBeLessThan(1e-9)
    expect(leaves).toBeLessThan(1e-6)
    const { positions, speeds } = form.assembly
    const [nq, nv, ns] = [positions.length, speeds.length, form.states.length]
    const graph = new Graph()
    const slots = form.states.map((_, i) => graph.slot(i))
    const { rates } = mechanismMotion(
      machine,
      numbersOf(machine),
      layers,
      mechanismForm(machine, numbersOf(machine)),
      slots,
      point.inputs,
      [],
    )
    const rateOf = (x: readonly number[]) => {
      const known = evaluation(Float64Array.from(x))
      return rates.map((rate) => known.number(rate) as number)
    }
    const run = (start: readonly number[], until: number) => {
      const steps = 40
      const h = until / steps
      let x = [...start]
      for (let k = 0; k < steps; k++) {
        const at = (slope: readonly number[], by: number) => x.map((value, i) => value + by * slope[i]!)
        const k1 = rateOf(x)
        const k2 = rateOf(at(k1, h / 2))
        const k3 = rateOf(at(k2, h / 2))
        const k4 = rateOf(at(k3, h))
        x = x.map((value, i) => value + (h / 6) * (k1[i]! + 2 * k2[i]! + 2 * k3[i]! + k4[i]!))
      }
      return x
    }
    expect(Object.keys(asked)).toHaveLength(6)
    // small deviations in the coordinates of the linear form, put on and read off by quaternions
    const qa = positions.findIndex(({ name }) => name === 'boat.attitude.w')
    const px = positions.findIndex(({ name }) => name === 'boat.x')
    const names = system.states
    const turnAt = (axis: string) => names.indexOf(`boat.turnAbout${axis}`)
    const wayAt = (axis: string) => names.indexOf(`boat.wayAlong${axis}`)
    const away = (x0: readonly number[], z: readonly number[]): number[] => {
      const x = [...x0]
      const half: Quaternion = [1, ...(['X', 'Y', 'Z'].map((axis) => z[turnAt(axis)]! / 2) as [number, number, number])]
      const q0 = x0.slice(qa, qa + 4) as unknown as Quaternion
      product(q0, half).forEach((value, i) => (x[qa + i] = value as number))
      const way = applied(rotation(q0), ['X', 'Y', 'Z'].map((axis) => z[wayAt(axis)]!) as unknown as Vector)
      way.forEach((value, i) => (x[px + i]! += value as number))
      names.forEach((name, i) => {
        const at = form.states.findIndex((one) => one.name === name)
        if (at >= 0) x[at]! += z[i]!
      })
      return x
    }
    const back = (x0: readonly number[], x: readonly number[]): number[] => {
      const [w, i, j, k] = x0.slice(qa, qa + 4) as [number, number, number, number]
      const turn = product([w, -i, -j, -k], x.slice(qa, qa + 4) as unknown as Quaternion) as readonly number[]
      const way = applied(
        transposedRows(rotation([w, i, j, k])),
        [0, 1, 2].map((n) => x[px + n]! - x0[px + n]!) as unknown as Vector,
      )
      return names.map((name) => {
        const axis = name.slice(-1)
        if (name.startsWith('boat.turnAbout')) return 2 * turn['XYZ'.indexOf(axis) + 1]!
        if (name.startsWith('boat.wayAlong')) return way['XYZ'.indexOf(axis)] as number
        const at = form.states.findIndex((one) => one.name === name)
        return x[at]! - x0[at]!
      })
    }
    expect([nq, nv, ns]).toEqual([8, 7, 21])
    const until = 0.3
    const nominal = run(states, until)
    const small = 1e-5
    const step = expm(system.a, until)
    names.forEach((name, i) => {
      // what fans do is alike: one of each sort says it
      if (name.startsWith('drives.fan') && name !== 'drives.fan0.speed') return
      const z = names.map((_, k) => (k === i ? small : 0))
      const found = back(nominal, run(away(states, z), until)).map((value) => value / small)
      expect(found, name).toBeNear(
        step.map((row) => row[i]!),
        { absolute: 3e-4 },
      )
    })
  })

  it('counts how a turning chain ties speeds to positions', () => {
    // a four-bar in mid-swing, its speeds and closing found anew beside the point
    const bars = fourBar({ crank: 0.3, coupler: 0.9, rocker: 0.6, ground: 0.8 }, { crank: 0.7, coupler: 0.2, rocker: 1.6 })
    const drives = { turn: { kind: 'effortDrive', joint: 'crank.angle', most: 100 } }
    const machine: Part = { ...bars, gravity: 0, drives }
    const speed = 3
    const equations = pointEquations(machine, fullMechanism, [0, 1])
    expect(closeChains(machine)).toMatchObject({ kind: 'closed', kept: equations.keptRows })
    const closed = (crank: number) => closedPose(machine, [crank, 0.2, 1.6], ['crank.angle'])!
    const held = (crank: number) =>
      expectDone(mechanismPoint(machine, fullMechanism, { q: closed(crank), held: ['crank.angle'] }))
    const at = (crank: number, rate: number) => {
      const { states, spread } = held(crank)
      return Float64Array.from([...states.slice(0, 3), ...spread.map(([share]) => share! * rate), 0])
    }
    const accelerates = (crank: number, rate: number) => evaluation(at(crank, rate)).number(equations.rates[3]!) as number
    const { system } = linearFormAt(equations, at(0.7, speed), ['crank.angle'])
    const small = 1e-4
    expect(system.a[1]).toBeNear(
      [
        (accelerates(0.7 + small, speed) - accelerates(0.7 - small, speed)) / (2 * small),
        (accelerates(0.7, speed + small) - accelerates(0.7, speed - small)) / (2 * small),
      ],
      { relative: 1e-6 },
    )
    expect(system.states).toEqual(['crank.angle', 'crank.rate'])
  })
})

/** e^(a t) by its series over halves. */
function expm(a: readonly (readonly number[])[], t: number): number[][] {
  const n = a.length
  const one = a.map((_, i) => a.map((__, j) => (i === j ? 1 : 0)))
  const small = a.map((row) => row.map((value) => (value * t) / 1024))
  let sum = one as number[][]
  let term = one as number[][]
  for (let k = 1; k < 12; k++) {
    term = multiply(term, small).map((row) => row.map((value) => value / k))
    sum = sum.map((row, i) => row.map((value, j) => value + term[i]![j]!))
  }
  for (let k = 0; k < 10; k++) sum = multiply(sum, sum) as number[][]
  expect(sum).toHaveLength(n)
  return sum
}
