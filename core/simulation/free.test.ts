import { describe, expect, it } from 'vitest'
import { bodiesOf, closeChains, fullMechanism } from '../machine'
import type { Part } from '../document'
import { bodyPart, fourBar, jointPart, mechanismPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { energyDrift, findColumn, freeProgram } from './index'
import type { FreeRecord } from './index'

function swing(machine: Part, until: number, step: number, speeds: Record<string, number> = {}): FreeRecord {
  const closure = closeChains(machine)
  if (closure.kind === 'open') throw new Error('The machine closes.')
  const program = freeProgram(machine, fullMechanism, closure.kept)
  const start = program.states.map(({ name, atRest }, i) => closure.q[i] ?? speeds[name] ?? atRest)
  return program.run({ start, inputs: [], until, step, every: Math.max(1, Math.round(until / step / 2000)) })
}

const column = (record: FreeRecord, name: string) => findColumn(record as never, name)!

it('energy that goes astray is told as a share of what moves', () => {
  const columns = Object.entries({
    kinetic: [0, 2, 3],
    potential: [9, 7.5, 6.8],
    stored: [0, 0, 0.3],
    lost: [0, 0.5, 1],
    supplied: [0, 0.4, 1],
  }).map(([name, values]) => ({ name: `energy.${name}`, values: Float64Array.from(values) }))
  // 9 at first, then 9.6, then 10.1
  expect(energyDrift({ columns } as never)).toBeNear(1.1 / 3, { relative: 1e-12 })
})

describe('free motion', () => {
  it('of a pendulum has the period of the elliptic integral', () => {
    // a point mass on a rod, 90°: complete elliptic integral, see the file
    const { inputs, expected } = reference<{ L_m: number; theta0_deg: number }, { period_s: number; omega_at_bottom: number }>(
      'rbd-pendulum-period-90',
    )
    const machine = mechanismPart({
      bob: bodyPart(
        1,
        [0, 0, -inputs.L_m],
        [0, 0, 0],
        jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 1, 0], start: (inputs.theta0_deg * Math.PI) / 180 }),
      ),
    })
    const record = swing(machine, expected.period_s, expected.period_s / 4000)
    const angle = column(record, 'bob.angle')
    expect(angle.at(-1)!).toBeNear(angle[0]!, { relative: 1e-7 })
    expect(Math.max(...column(record, 'bob.rate').map(Math.abs))).toBeNear(expected.omega_at_bottom, { relative: 1e-5 })
    expect(energyDrift(record)).toBeLessThan(1e-10)
  })

  it('of two pendulums in a row ends where an independent integration ends', () => {
    // scipy DOP853, see the file; angles there are absolute
    const { inputs, expected } = reference<{ theta1_theta2_w1_w2: number[]; T: number }, { state_T: number[] }>(
      'rbd-double-pendulum',
    )
    const [a, b] = inputs.theta1_theta2_w1_w2 as [number, number]
    const hung = (on: string, at: readonly [number, number, number], start: number) =>
      bodyPart(1, [0, 0, -1], [0, 0, 0], jointPart('turning', on, at, { axis: [0, -1, 0], start }))
    const record = swing(
      mechanismPart({ upper: hung('ground', [0, 0, 0], a), lower: hung('upper', [0, 0, -1], b - a) }),
      inputs.T,
      2e-4,
    )
    const end = (name: string) => column(record, name).at(-1)!
    const found = [
      end('upper.angle'),
      end('upper.angle') + end('lower.angle'),
      end('upper.rate'),
      end('upper.rate') + end('lower.rate'),
    ]
    expect(found).toBeNear(expected.state_T, { absolute: 1e-5 })
  })

  it('of a heavy top nutates between the computed angles, at the computed period', () => {
    // Lagrange's top, computed by quadrature, see the file
    const { inputs, expected } = reference<
      Record<'mass' | 'l_pivot_to_com' | 'I1_about_pivot' | 'I3' | 'omega3_total_spin' | 'theta0_deg', number>,
      Record<'nutation_theta_limit_deg' | 'nutation_period_s', number>
    >('rbd-heavy-top')
    const { mass, l_pivot_to_com: l, I1_about_pivot: i1, I3: i3 } = inputs
    const theta = (inputs.theta0_deg * Math.PI) / 180
    const about = i1 - mass * l * l
    const machine = mechanismPart({
      top: bodyPart(mass, [0, 0, l], [about, about, i3], { ...jointPart('ball', 'ground', [0, 0, 0]), turned: [0, theta, 0] }),
    })
    const record = swing(machine, 2 * expected.nutation_period_s, 5e-6, { 'top.zRate': inputs.omega3_total_spin })
    const [x, y] = ['top.x', 'top.y'].map((name) => column(record, name))
    const [w, z] = ['top.w', 'top.z'].map((name) => column(record, name))
    // the axis in the turned frame, then the frame's own turn about y
    const tilt = Array.from(w!, (_, k) => {
      const [a, b, c, d] = [w![k]!, x![k]!, y![k]!, z![k]!]
      const axis = [2 * (b * d + a * c), 2 * (c * d - a * b), a * a - b * b - c * c + d * d]
      return (
        (Math.acos((Math.cos(theta) * axis[2]! - Math.sin(theta) * axis[0]!) / (a * a + b * b + c * c + d * d)) * 180) / Math.PI
      )
    })
    expect(Math.max(...tilt)).toBeNear(expected.nutation_theta_limit_deg, { absolute: 2e-3 })
    expect(Math.min(...tilt)).toBeNear(inputs.theta0_deg, { absolute: 1e-6 })
    const lowest = tilt.indexOf(Math.max(...tilt.slice(0, tilt.length / 2)))
    expect(record.time[lowest]! * 2).toBeNear(expected.nutation_period_s, { relative: 5e-3 }) // rows of the record lie apart
  })

  it('of a closed chain keeps it closed within 1e-8 m over 60 s, and keeps its energy', () => {
    const machine = fourBar({ crank: 0.1, coupler: 0.3, rocker: 0.25, ground: 0.35 }, { crank: 1, coupler: -0.5, rocker: 1.8 })
    const upright = { ...machine, gravity: 0 }
    const record = swing(upright, 60, 1e-3, {})
    expect(Math.max(...column(record, 'chains.gap'))).toBeLessThan(1e-8)
    const turning = swing({ ...machine, bodies: turnedUp(machine) }, 60, 5e-4)
    expect(Math.max(...column(turning, 'chains.gap'))).toBeLessThan(1e-8)
    expect(energyDrift(turning)).toBeLessThan(1e-6)
  })

  it.each([
    ['solid', 2 / 5, 5 / 7],
    ['hollow', 2 / 3, 3 / 5],
  ])('of a %s ball that is thrown along the ground ends rolling', (_what, share, kept) => {
    // friction acts where it touches: m v0 r = m v r + I v/r, whatever the friction; any textbook of mechanics
    const [mass, radius, v0, stiffness] = [2, 0.2, 3, 1e5]
    const sunk = (mass * 9.80665) / stiffness
    const lever = radius - sunk
    const inertia = share * mass * lever ** 2
    const foot = {
      kind: 'groundContact',
      body: 'ball',
      at: [0, 0, 0],
      radius,
      level: 0,
      stiffness,
      damping: 300,
      friction: 0.3,
      smooth: 1e-3,
    }
    const machine = mechanismPart(
      { ball: bodyPart(mass, [0, 0, 0], [inertia, inertia, inertia], jointPart('free', 'ground', [0, 0, lever])) },
      { forces: { foot } },
    )
    const record = swing(machine, 2, 1e-4, { 'ball.vx': v0 })
    const [x, t] = [column(record, 'ball.x'), record.time]
    const speed = (x.at(-1)! - x.at(-100)!) / (t.at(-1)! - t.at(-100)!)
    expect(speed).toBeNear(kept * v0, { relative: 2e-3 })
    expect(column(record, 'ball.wy').at(-1)!).toBeNear(speed / lever, { relative: 2e-3 })
    expect(energyDrift(record)).toBeLessThan(1e-6)
  })

  it('that diverges stops, and names the state', () => {
    const machine = mechanismPart(
      { cart: bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0], start: 1 })) },
      { forces: { push: { kind: 'jointSpring', joint: 'cart.travel', stiffness: 0, damping: 0, rest: 0 } } },
    )
    const program = freeProgram(machine, fullMechanism, [])
    const record = program.run({
      start: [1, 0],
      inputs: [],
      until: 1,
      step: 1e-3,
      every: 10,
      values: { 'forces.push.stiffness': -1e4 },
    })
    expect(record.ending.kind).toBe('finished') // a zero in the document is structure: it cannot become a number in a run
    const springy = {
      ...machine,
      forces: { push: { kind: 'jointSpring', joint: 'cart.travel', stiffness: 1, damping: 0, rest: 0 } },
    }
    const wild = freeProgram(springy, fullMechanism, []).run({
      start: [1, 0],
      inputs: [],
      until: 5,
      step: 1e-3,
      every: 10,
      values: { 'forces.push.stiffness': -1e4 },
    })
    expect(wild.ending).toMatchObject({ kind: 'diverged', state: 'cart.rate' })
    expect(wild.time.length).toBeGreaterThan(10)
  })
})

/** The same four-bar standing upright, so that gravity swings it: axes along y. */
function turnedUp(machine: Part): Record<string, Part> {
  const bodies = bodiesOf(machine)
  return Object.fromEntries(
    Object.entries(bodies).map(([name, body]) => {
      const joint = body.joint
      return [name, { ...body, joint: { ...joint, ...(joint.on === 'ground' ? { turned: [Math.PI / 2, 0, 0] } : {}) } }]
    }),
  )
}

describe('a free program', () => {
  const machine = mechanismPart(
    { block: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0] })) },
    {
      forces: { spring: { kind: 'jointSpring', joint: 'block.travel', stiffness: 50, damping: 1, rest: 0 } },
      drives: { pull: { kind: 'effortDrive', joint: 'block.travel', most: 30 } },
    },
  )
  const program = freeProgram(machine, fullMechanism, [])
  const run = (values: Record<string, number>, inputs = [0], start = [0.2, 0]) =>
    program.run({ start, inputs, until: 2, step: 1e-3, every: 1, values })

  it('takes other numbers without being compiled again, and gives the closed form', () => {
    for (const [stiffness, mass] of [
      [50, 2],
      [200, 2],
      [50, 5],
    ] as const) {
      const record = run({ 'forces.spring.stiffness': stiffness, 'bodies.block.mass': mass })
      const decay = 1 / (2 * mass)
      const w = Math.sqrt(stiffness / mass - decay ** 2)
      // x(t) of a spring and damper let go at rest: any textbook of vibration
      const exact = Array.from(record.time, (t) => 0.2 * Math.exp(-decay * t) * (Math.cos(w * t) + (decay / w) * Math.sin(w * t)))
      expect(column(record, 'block.travel')).toBeNear(exact, { absolute: 1e-9 }) // order 4 at a hundredth of the fastest period
    }
  })

  it('gives the same bits for the same values, whatever ran before', () => {
    const first = run({})
    run({ 'forces.spring.stiffness': 999 })
    expect(column(run({}), 'block.travel')).toEqual(column(first, 'block.travel'))
  })

  it('settles where a steady effort balances the spring, and no effort beyond its limit', () => {
    const settled = (input: number) =>
      program.run({ start: [0, 0], inputs: [input], until: 40, step: 2e-3, every: 100, values: { 'forces.spring.damping': 8 } })
    expect(column(settled(10), 'block.travel').at(-1)).toBeNear(10 / 50, { absolute: 1e-9 })
    expect(column(settled(500), 'block.travel').at(-1)).toBeNear(30 / 50, { absolute: 1e-9 })
  })

  it('accounts for what the drive puts in and the damper takes', () => {
    const record = run({}, [25])
    const energy = (name: string) => column(record, `energy.${name}`)
    const total = Array.from(
      record.time,
      (_, k) => energy('kinetic')[k]! + energy('stored')[k]! + energy('lost')[k]! - energy('supplied')[k]!,
    )
    expect(total).toBeNear(new Array<number>(total.length).fill(total[0]!), { absolute: 1e-9 })
    expect(energy('lost').at(-1)).toBeGreaterThan(0)
  })

  it('keeps as many rows as asked, from the first on', () => {
    const record = program.run({ start: [0.2, 0], inputs: [0], until: 1, step: 1e-3, every: 250 })
    expect([...record.time]).toEqual([0, 0.25, 0.5, 0.75, 1])
    expect(column(record, 'block.travel')[0]).toBe(0.2)
  })
})
