import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { fullMechanism, shortName } from '../machine'
import { expectDone } from '../tests/expectDone'
import { reference } from '../tests/reference'
import { bodyPart, fourBar, jointPart, mechanismPart } from '../tests/parts'
import { mechanismPoint, modes } from './index'
import type { PointConditions } from './index'

const g = 9.80665
const y = { axis: [0, 1, 0] }
const point = (machine: Part, conditions: PointConditions = {}) =>
  expectDone(mechanismPoint(machine, new Set([...fullMechanism].filter((layer) => layer !== 'friction')), conditions))

const pendulum = (start: number) =>
  mechanismPart({
    bob: bodyPart(2, [0, 0, -0.5], [0.02, 0.02, 0.02], jointPart('turning', 'ground', [0, 0, 0], { ...y, start })),
  })
const crane = mechanismPart({
  trolley: bodyPart(3, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 2], { axis: [1, 0, 0] })),
  load: bodyPart(1.5, [0, 0, -0.8], [0, 0, 0], jointPart('turning', 'trolley', [0, 0, 0], { ...y, start: 0.3 })),
})

describe('an operating point', () => {
  it('of a pendulum is where it hangs, wherever it starts', () => {
    const { states, residual, held } = point(pendulum(0.9))
    expect(states[0]).toBeNear(0, { absolute: 1e-9 })
    expect(residual).toBeLessThan(1e-9)
    expect(held).toEqual([])
  })

  it('may be one that does not last', () => {
    const { states, system } = point(pendulum(Math.PI - 0.01))
    expect(states[0]).toBeNear(Math.PI, { absolute: 1e-9 })
    const inertia = 0.02 + 2 * 0.25
    const poles = expectDone(modes(system)).map(({ pole }) => pole.re)
    expect(Math.max(...poles)).toBeNear(Math.sqrt((2 * g * 0.5) / inertia), { relative: 1e-9 })
  })

  it('of a held joint is found with the effort that holds it', () => {
    const machine = { ...pendulum(0.6), drives: { hold: { kind: 'effortDrive', joint: 'bob.angle', most: 100 } } }
    const { states, inputs, held } = point(machine)
    expect(held).toEqual(['bob.angle'])
    expect(states[0]).toBe(0.6)
    expect(inputs).toBeNear([2 * g * 0.5 * Math.sin(0.6)], { relative: 1e-10 }) // lever arm times weight
  })

  it('counts a motor in: the voltage that holds the load still', () => {
    const motor = {
      kind: 'dcMotor',
      joint: 'bob.angle',
      resistance: 1.2,
      inductance: 0.002,
      constant: 0.08,
      gear: 50,
      drag: 0,
      voltage: 48,
    }
    const { states, inputs } = point({ ...pendulum(0.6), drives: { hold: motor } })
    const torque = 2 * g * 0.5 * Math.sin(0.6)
    expect(states[2]).toBeNear(torque / (50 * 0.08), { relative: 1e-9 }) // current
    expect(inputs).toBeNear([(1.2 * torque) / (50 * 0.08)], { relative: 1e-9 })
  })

  it('splits a load that drives share by least effort, each as a share of its limit', () => {
    const drive = (most: number) => ({ kind: 'effortDrive', joint: 'bob.angle', most })
    const machine = { ...pendulum(0.6), drives: { large: drive(30), small: drive(10), far: { ...drive(5), joint: 'arm.angle' } } }
    const arm = bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('turning', 'ground', [0, 3, 0], y))
    const { inputs, sharing } = point({ ...machine, bodies: { ...(pendulum(0.6).bodies as Part), arm } })
    const torque = 2 * g * 0.5 * Math.sin(0.6)
    // least (a/30)² + (b/10)² with a + b = torque: a : b = 900 : 100
    expect(inputs).toBeNear([0.9 * torque, 0.1 * torque, 0], { absolute: 1e-9 })
    expect(sharing).toEqual(['drives.large', 'drives.small'])
    const alone = { ...pendulum(0.6), drives: { large: drive(30) } }
    expect(point(alone).sharing).toEqual([])
  })

  it('splits a load between motors by their voltages, their currents following', () => {
    const motor = (gear: number) => ({
      ...{ kind: 'dcMotor', joint: 'bob.angle', resistance: 2, inductance: 0.002, constant: 0.05, gear, drag: 0, voltage: 24 },
    })
    const { states, inputs, sharing } = point({ ...pendulum(0.6), drives: { slow: motor(40), fast: motor(20) } })
    const torque = 2 * g * 0.5 * Math.sin(0.6)
    // torque = constant gear u / resistance each: u in the ratio of the gears
    const unit = torque / ((0.05 / 2) * (40 * 40 + 20 * 20))
    expect(inputs).toBeNear([40 * unit, 20 * unit], { relative: 1e-9 })
    expect(states.slice(2)).toBeNear([20 * unit, 10 * unit], { relative: 1e-9 })
    expect(sharing).toHaveLength(2)
  })

  it('is found beside a stiff spring, where a newton hardly moves anything', () => {
    // a quarter vehicle with an ideal drive between wheel and body, springs unloaded where it starts
    const z = { axis: [0, 0, 1] }
    const spring = (joint: string, stiffness: number) => ({ kind: 'jointSpring', joint, stiffness, damping: 0, rest: 0 })
    const machine = mechanismPart(
      {
        wheel: bodyPart(40, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'ground', [0, 0, 0.3], z)),
        body: bodyPart(300, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'wheel', [0, 0, 0.5], z)),
      },
      {
        forces: { tyre: spring('wheel.travel', 200_000), strut: spring('body.travel', 16_000) },
        drives: { between: { kind: 'effortDrive', joint: 'body.travel', most: 5_000 } },
      },
    )
    const { states, inputs } = point(machine)
    expect(states[0]).toBeNear((-340 * g) / 200_000, { relative: 1e-12 })
    expect(inputs).toBeNear([300 * g], { relative: 1e-12 })
  })

  it('beyond what a drive can give is refused, and says what may go', () => {
    const weak = { ...pendulum(0.6), drives: { hold: { kind: 'effortDrive', joint: 'bob.angle', most: 1 } } }
    const outcome = mechanismPoint(weak, fullMechanism)
    expect(outcome.kind).toBe('refused')
    if (outcome.kind === 'refused') expect(outcome.problems[0]).toMatchObject({ where: 'operating point' })
    const free = point(weak, { held: [] })
    expect(free.residual).toBeLessThan(1e-9)
  })

  it('of a body that nothing carries does not exist', () => {
    const falling = mechanismPart({ stone: bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('free', 'ground', [0, 0, 0])) })
    const outcome = mechanismPoint(falling, fullMechanism)
    expect(outcome.kind).toBe('refused')
    if (outcome.kind === 'refused') expect(outcome.problems[0]!.what).toMatch(/speed along z of stone keeps changing by 9\.81/)
  })

  it('of a lens under a magnet is unstable, with the pole of its gap', () => {
    // common practice: pull = C (i/gap)², so i = gap sqrt(m g / C), and the pole is sqrt(2 g / gap)
    const [c, gap, mass] = [2e-4, 0.02, 0.4]
    const machine = mechanismPart(
      { lens: bodyPart(mass, [0, 0, 0], [1e-4, 1e-4, 1e-4], jointPart('sliding', 'ground', [0, 0, -gap], { axis: [0, 0, 1] })) },
      {
        drives: {
          coil: { kind: 'magnet', from: 'ground', fromAt: [0, 0, 0], to: 'lens', toAt: [0, 0, 0], constant: c, most: 10 },
        },
      },
    )
    const { inputs, system } = point(machine, { held: ['lens.travel'] })
    expect(inputs).toBeNear([gap * Math.sqrt((mass * g) / c)], { relative: 1e-10 })
    expect(Math.max(...expectDone(modes(system)).map(({ pole }) => pole.re))).toBeNear(Math.sqrt((2 * g) / gap), {
      relative: 1e-9,
    })
  })
})

describe('the linear form', () => {
  it('of a trolley with a hanging load is the derived one', () => {
    // Lagrange by a computer algebra system, see the file
    interface Case {
      readonly inputs: { crane: Record<'M' | 'm' | 'l' | 'b_cart' | 'c_sway', number> }
      readonly expected: { crane: { A: number[][]; B: number[][]; poles: { re: number; im: number }[] } }
    }
    const { inputs, expected } = reference<Case['inputs'], Case['expected']>('veh-balance-crane')
    const { M, m, l, b_cart, c_sway } = inputs.crane
    const damper = (joint: string, damping: number) => ({ kind: 'jointSpring', joint, stiffness: 0, damping, rest: 0 })
    const machine = mechanismPart(
      {
        trolley: bodyPart(M, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 2], { axis: [1, 0, 0] })),
        load: bodyPart(m, [0, 0, -l], [0, 0, 0], jointPart('turning', 'trolley', [0, 0, 0], { axis: [0, -1, 0] })),
      },
      {
        forces: { rolling: damper('trolley.travel', b_cart), sway: damper('load.angle', c_sway) },
        drives: { pull: { kind: 'effortDrive', joint: 'trolley.travel', most: 100 } },
      },
    )
    const { system } = point(machine)
    expect(system.states).toEqual(['trolley.travel', 'load.angle', 'trolley.rate', 'load.rate'])
    expect(system.a).toBeNear(expected.crane.A, { relative: 1e-12, absolute: 1e-12 })
    expect(system.b).toBeNear(expected.crane.B, { relative: 1e-12, absolute: 1e-12 })
  })
})

describe('modes', () => {
  it('of a trolley with a hanging load are one that rolls and one that swings', () => {
    // Lagrange by hand: (M + m) x'' + m l θ'' = 0, x'' + l θ'' + g θ = 0, so ω² = (g/l)(1 + m/M)
    const { system } = point(crane)
    const all = expectDone(modes(system))
    const swing = all.find(({ frequency }) => frequency > 0)!
    expect(swing.frequency).toBeNear(Math.sqrt((g / 0.8) * (1 + 1.5 / 3)), { relative: 1e-9 })
    expect(swing.damping).toBeNear(0, { absolute: 1e-9 })
    const size = (name: string) => swing.shape.find((one) => one.name === name)!.size
    // the trolley moves by m l / (M + m) for each radian of the load
    expect(size('trolley.travel') / size('load.angle')).toBeNear((1.5 * 0.8) / 4.5, { relative: 1e-5 })
  })

  it('of a spring and damper have the frequency, damping and time constant of the textbook', () => {
    const machine = mechanismPart(
      { block: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0] })) },
      { forces: { spring: { kind: 'jointSpring', joint: 'block.travel', stiffness: 50, damping: 4, rest: 0.1 } } },
    )
    const { states, system } = point(machine)
    expect(states[0]).toBeNear(0.1, { absolute: 1e-9 })
    const [mode] = expectDone(modes(system))
    expect(mode!.frequency).toBeNear(5, { relative: 1e-9 })
    expect(mode!.damping).toBeNear(4 / (2 * Math.sqrt(50 * 2)), { relative: 1e-9 })
    expect(mode!.timeConstant!).toBeNear((2 * 2) / 4, { relative: 1e-9 })
  })

  it('of a closed chain are as many as its freedoms', () => {
    const machine = fourBar({ crank: 0.1, coupler: 0.3, rocker: 0.25, ground: 0.35 }, { crank: 1, coupler: -0.5, rocker: 1.8 })
    const sprung = {
      ...machine,
      forces: { spring: { kind: 'jointSpring', joint: 'crank.angle', stiffness: 20, damping: 0, rest: 1 } },
    }
    const { system, spread } = point(sprung)
    expect(system.a).toHaveLength(2)
    expect(spread.map((row) => row.length)).toEqual([1, 1, 1])
    expect(expectDone(modes(system))[0]!.frequency).toBeGreaterThan(10)
  })

  it('of four pendulums in a row are those of the general eigenvalue problem', () => {
    // small swings of equal point masses on equal rods: ω² = (g/l) λ with λ the zeros of Laguerre's polynomial of
    // degree 4 (D. Bernoulli's hanging chain; from memory): 0.322548, 1.745761, 4.536620, 9.395071
    const bodies = Object.fromEntries(
      [0, 1, 2, 3].map((i) => [
        `bob${i}`,
        bodyPart(
          1,
          [0, 0, -1],
          [0, 0, 0],
          jointPart('turning', i === 0 ? 'ground' : `bob${i - 1}`, [0, 0, i === 0 ? 0 : -1], { ...y, start: 0.1 }),
        ),
      ]),
    )
    const { system } = point(mechanismPart(bodies))
    const found = expectDone(modes(system)).map(({ frequency }) => frequency ** 2 / g)
    expect(found).toBeNear([0.322548, 1.745761, 4.53662, 9.395071], { relative: 1e-6 })
  })
})

it('names what moves without a coordinate of its own by the turn or way in axes of its body', () => {
  const body = (joint: Part) => bodyPart(1, [0, 0, -0.2], [0.1, 0.2, 0.3], joint)
  const machine = mechanismPart(
    {
      ship: body(jointPart('free', 'ground', [0, 0, 0])),
      lamp: body(jointPart('ball', 'ship', [0, 0, 1])),
      sled: body(jointPart('planar', 'ground', [5, 0, 0], { axis: [0, 0, 1] })),
    },
    { gravity: 0 },
  )
  const { states } = expectDone(mechanismPoint(machine, new Set())).system
  expect(new Set(states).size).toBe(states.length)
  const [turns, ways] = [['turnAboutX', 'turnAboutY', 'turnAboutZ'], ['wayAlongX', 'wayAlongY', 'wayAlongZ']] // prettier-ignore
  expect(states.slice(0, states.length / 2)).toEqual([
    ...[...turns, ...ways].map((name) => `ship.${name}`),
    ...['sled.wayAhead', 'sled.wayAside', 'sled.turn'],
    ...turns.map((name) => `lamp.${name}`),
  ])
  expect(shortName('ship.wayAlongX', machine)).toBe('way along x of ship')
  expect(shortName('ship.vx', machine)).toBe('speed along x of ship')
})
