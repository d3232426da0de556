import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { reference } from '../core/tests/reference'
import { main } from './main'

const folder = mkdtempSync(join(tmpdir(), 'calm-hand-dynamics-'))

afterEach(() => vi.restoreAllMocks())

interface Answer {
  readonly order: string[]
  readonly problems?: { where: string; what: string; remedy: string }[]
  readonly energy: { kinetic: number; potential: number }
  readonly momentum: { linear: number[]; angular: number[] }
  readonly poses: Record<string, { position: number[]; orientation: number[] }>
  readonly [ask: string]: unknown
}

/** Asks about a robot; gives the status and the answers. */
async function ask(urdf: string, request: object): Promise<{ status: number; value: Answer }> {
  const [robot, question] = [join(folder, 'robot.urdf'), join(folder, 'request.json')]
  writeFileSync(robot, urdf)
  writeFileSync(question, JSON.stringify(request))
  let output = ''
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => {
    output += String(text)
    return true
  })
  const status = await main(['dynamics', robot, question, '--json'])
  vi.restoreAllMocks()
  return { status, value: JSON.parse(output) as Answer }
}

const named = (joints: readonly string[], values: readonly number[]) =>
  Object.fromEntries(joints.map((joint, i) => [joint, values[i]!]))

interface Arm {
  readonly inputs: {
    urdf: string
    gravity_m_s2: number[]
    tip_link: string
    states: Record<'q' | 'qd' | 'qdd' | 'tau', number[]>[]
  }
  readonly expected: {
    states: {
      M: number[][]
      coriolis: number[]
      gravity: number[]
      inverse_dynamics: number[]
      forward_dynamics: number[]
      T_tip: number[][]
      J_lin_ang: number[][]
      com_world: number[]
      kinetic_energy: number
    }[]
  }
}

/** r_world_body from a quaternion (w, x, y, z). */
function rotation([w, x, y, z]: number[]): number[][] {
  return [
    [1 - 2 * (y! * y! + z! * z!), 2 * (x! * y! - w! * z!), 2 * (x! * z! + w! * y!)],
    [2 * (x! * y! + w! * z!), 1 - 2 * (x! * x! + z! * z!), 2 * (y! * z! - w! * x!)],
    [2 * (x! * z! - w! * y!), 2 * (y! * z! + w! * x!), 1 - 2 * (x! * x! + y! * y!)],
  ]
}

describe('dynamics of arms', () => {
  // computed by two public libraries and checked by a third implementation; theory: R. Featherstone, Rigid Body Dynamics
  // Algorithms, 2008; see the files
  it.each(['rbd-planar2r', 'rbd-rrp', 'rbd-sixr201'])('agrees with %s', async (id) => {
    const { inputs, expected } = reference<Arm['inputs'], Arm['expected']>(id)
    for (const [k, { q, qd, qdd, tau }] of inputs.states.entries()) {
      const wanted = expected.states[k]!
      const joints = q.map((_, i) => `j${i + 1}`)
      const { status, value } = await ask(inputs.urdf, {
        gravity: inputs.gravity_m_s2,
        state: { q: named(joints, q), qd: named(joints, qd) },
        torque: named(joints, tau),
        acceleration: named(joints, qdd),
        ask: ['massMatrix', 'bias', 'forward', 'inverse', 'poses', `jacobian:${inputs.tip_link}`, 'centerOfMass', 'energy'],
      })
      expect(status).toBe(0)
      const near = { relative: 1e-8, absolute: 1e-8 }
      expect(value.order).toEqual(joints)
      expect(value.massMatrix).toBeNear(wanted.M, near)
      expect(value.bias).toBeNear(
        wanted.coriolis.map((one, i) => one + wanted.gravity[i]!),
        near,
      )
      expect(value.forward).toBeNear(wanted.forward_dynamics, near)
      expect(value.inverse).toBeNear(wanted.inverse_dynamics, near)
      // the library that made the file counts 1 kg for the base link, which the description leaves without mass
      const mass = [...inputs.urdf.matchAll(/<mass value="([^"]+)"/g)].reduce((sum, [, one]) => sum + Number(one), 0)
      expect(value.centerOfMass).toBeNear(
        wanted.com_world.map((one) => (one * (mass + 1)) / mass),
        near,
      )
      // its potential energies take each mass at its link's origin, not at its centre: not compared
      expect(value.energy.kinetic).toBeNear(wanted.kinetic_energy, near)
      expect(value.energy.potential).toBeNear(9.80665 * mass * (value.centerOfMass as number[])[2]!, near)
      const tip = value.poses[inputs.tip_link]!
      expect(tip.position).toBeNear(
        wanted.T_tip.slice(0, 3).map((row) => row[3]!),
        near,
      )
      expect(rotation(tip.orientation)).toBeNear(
        wanted.T_tip.slice(0, 3).map((row) => row.slice(0, 3)),
        near,
      )
      const j = wanted.J_lin_ang
      expect(value[`jacobian:${inputs.tip_link}`]).toBeNear([...j.slice(3), ...j.slice(0, 3)], near)
    }
  })
})

describe('dynamics of a free base', () => {
  it('agrees with rbd-floating-base', async () => {
    // computed by a public library, checked by an 8 x 8 world-frame Newton-Euler system; see the file
    const { inputs, expected } = reference<
      {
        urdf: string
        gravity: number[]
        states: Record<
          | 'p_world'
          | 'quat_wxyz'
          | 'v_body'
          | 'w_body'
          | 'q'
          | 'qd'
          | 'tau'
          | 'ext_force_world_at_base_origin'
          | 'ext_torque_world',
          number[]
        >[]
      },
      {
        states: (Record<
          'alpha_body' | 'vdot_body_components' | 'qdd' | 'com_world' | 'linear_momentum_world' | 'angular_momentum_world_origin',
          number[]
        > & { kinetic_energy: number })[]
      }
    >('rbd-floating-base')
    for (const [k, state] of inputs.states.entries()) {
      const wanted = expected.states[k]!
      const joints = ['j1', 'j2']
      const { value } = await ask(inputs.urdf, {
        gravity: inputs.gravity,
        base: 'free',
        state: {
          q: named(joints, state.q),
          qd: named(joints, state.qd),
          base: { position: state.p_world, orientation: state.quat_wxyz, angular: state.w_body, linear: state.v_body },
        },
        torque: named(joints, state.tau),
        wrenches: { base: { force: state.ext_force_world_at_base_origin, torque: state.ext_torque_world } },
        ask: ['forward', 'centerOfMass', 'momentum', 'energy', 'massMatrix', 'inverse'],
      })
      const near = { relative: 1e-7, absolute: 1e-7 }
      expect(value.order).toEqual(['wx', 'wy', 'wz', 'vx', 'vy', 'vz', 'j1', 'j2'])
      expect(value.forward).toBeNear([...wanted.alpha_body, ...wanted.vdot_body_components, ...wanted.qdd], near)
      expect(value.centerOfMass).toBeNear(wanted.com_world, near)
      const { momentum } = value
      expect(momentum.linear).toBeNear(wanted.linear_momentum_world, near)
      expect(momentum.angular).toBeNear(wanted.angular_momentum_world_origin, near)
      expect(value.energy.kinetic).toBeNear(wanted.kinetic_energy, near)
    }
  })
})

describe('poses of every sort of joint', () => {
  it('agree with fmt-urdf-tree, mimic and turned frames too', async () => {
    // closed form, see the file; URDF after http://wiki.ros.org/urdf/XML (from memory)
    const { inputs, expected } = reference<
      { urdf: string; configurations: Record<string, number | number[]>[] },
      {
        configurations: {
          q_normalised: Record<string, number | number[]>
          links: Record<string, { position: number[]; quat_wxyz: number[] }>
          com_world: number[]
        }[]
      }
    >('fmt-urdf-tree')
    for (const { q_normalised, links, com_world } of expected.configurations) {
      const { value, status } = await ask(inputs.urdf, { state: { q: q_normalised }, ask: ['poses', 'centerOfMass'] })
      expect(status).toBe(0)
      expect(value.centerOfMass).toBeNear(com_world, { absolute: 1e-9 })
      for (const [name, { position, quat_wxyz }] of Object.entries(links)) {
        const found = value.poses[name]!
        expect(found.position).toBeNear(position, { absolute: 1e-9 })
        expect(rotation(found.orientation)).toBeNear(rotation(quat_wxyz), { absolute: 1e-9 }) // up to sign
      }
    }
  })
})

describe('a robot that cannot be', () => {
  const link = (name: string, more = '') => `<link name="${name}">${more}</link>`
  const joint = (name: string, parent: string, child: string, more = '', type = 'revolute') =>
    `<joint name="${name}" type="${type}"><parent link="${parent}"/><child link="${child}"/>${more}</joint>`
  const robot = (...parts: string[]) => `<robot name="r">${parts.join('')}</robot>`
  const heavy = '<inertial><mass value="1"/><inertia ixx="1" ixy="0" ixz="0" iyy="1" iyz="0" izz="1"/></inertial>'

  it.each<[string, string, string, RegExp]>([
    ['text that is not XML', '<robot><link></robot>', 'line 1', /not XML/],
    ['another document', '<scene/>', 'robot', /scene, not robot/],
    ['an unexpanded macro file', '<robot xmlns:xacro="x"><xacro:leg/></robot>', 'robot', /macros/],
    ['a declared entity', '<!DOCTYPE r [<!ENTITY a "b">]><robot/>', 'line 1, column 30', /entities/],
    ['elements without end in one another', '<a>'.repeat(5000) + '</a>'.repeat(5000), 'line 1, column 123', /deep/],
    ['no links', '<robot name="r"/>', 'robot', /no links/],
    ['a link without a name', robot('<link/>'), 'link 1', /no name/],
    ['two links of one name', robot(link('a'), link('a')), 'link a', /Two links/],
    ['a misspelt parent', robot(link('hook'), link('bob'), joint('j', 'hok', 'bob')), 'joint j, parent', /no link named hok/],
    ['two parents', robot(link('a'), link('b'), joint('j', 'a', 'b'), joint('k', 'a', 'b')), 'joint k', /already hangs/],
    ['a circle', robot(link('a'), link('b'), joint('j', 'a', 'b'), joint('k', 'b', 'a')), 'robot', /circle/],
    ['a loose link', robot(link('a'), link('b')), 'robot', /2 links without a joint/],
    ['an axis of length 0', robot(link('a'), link('b'), joint('j', 'a', 'b', '<axis xyz="0 0 0"/>')), 'joint j, axis', /0 0 0/],
    [
      'a limit the wrong way round',
      robot(link('a'), link('b'), joint('j', 'a', 'b', '<limit lower="1" upper="-1"/>')),
      'joint j, limit',
      /above/,
    ],
    ['a word for a number', robot(link('a', '<inertial><mass value="much"/></inertial>')), 'link a, mass', /not a number/],
    ['NaN', robot(link('a', '<inertial><mass value="NaN"/></inertial>')), 'link a, mass', /not a number/],
    ['a negative mass', robot(link('a', '<inertial><mass value="-1"/></inertial>')), 'link a, mass', /-1 kg/],
    ['an unknown type of joint', robot(link('a'), link('b'), joint('j', 'a', 'b', '', 'revolut')), 'joint j', /revolut/],
    ['a mimic of nothing', robot(link('a'), link('b'), joint('j', 'a', 'b', '<mimic joint="x"/>')), 'joint j, mimic', /no joint/],
  ])('with %s is refused, with its place and a remedy', async (_what, urdf, where, words) => {
    const { status, value } = await ask(urdf, { ask: ['massMatrix'] })
    expect(status).toBe(2)
    const problem = value.problems!.find((one) => one.where.startsWith(where))
    expect(problem?.what).toMatch(words)
    expect(problem?.remedy).not.toBe('')
  })

  it('without mass where it moves has no forward dynamics, and says which joint', async () => {
    const urdf = robot(link('a'), link('b', heavy), link('c'), joint('j', 'a', 'b'), joint('k', 'b', 'c'))
    const { status, value } = await ask(urdf, { ask: ['forward'] })
    expect(status).toBe(2)
    expect(value.problems![0]).toMatchObject({ where: 'joint k' })
    expect((await ask(urdf, { ask: ['massMatrix'] })).status).toBe(0)
  })

  it('asked in unknown names is told the nearest', async () => {
    const urdf = robot(link('a'), link('b', heavy), joint('elbow', 'a', 'b'))
    const { status, value } = await ask(urdf, { state: { q: { elbw: 1 } }, ask: ['masMatrix', 'jacobian:c'] })
    expect(status).toBe(2)
    expect(value.problems!.map(({ remedy }) => remedy).join(' ')).toContain('Did you mean elbow?')
    expect(value.problems!.map(({ remedy }) => remedy).join(' ')).toContain('Did you mean massMatrix?')
  })

  it('asked with wrong counts is told how many', async () => {
    const urdf = robot(link('a'), link('b', heavy), joint('elbow', 'a', 'b'))
    const { value } = await ask(urdf, { state: { q: { elbow: [1, 2] } }, ask: ['poses'] })
    expect(value.problems![0]!.what).toMatch(/2 numbers are given; 1 are wanted/)
  })
})

describe('the example of the help', () => {
  it('is a pendulum that swings back', async () => {
    const { readFileSync } = await import('node:fs')
    const urdf = readFileSync('docs/examples/pendulum.urdf', 'utf8')
    const request = JSON.parse(readFileSync('docs/examples/pendulum.json', 'utf8')) as object
    const { value } = await ask(urdf, request)
    // a pendulum: (I + m l²) angle'' = -m g l sin(angle)
    const inertia = 0.01 + 2.4 * 0.8 ** 2
    expect(value.forward).toBeNear([(-2.4 * 9.80665 * 0.8 * Math.sin(0.3)) / inertia], { relative: 1e-12 })
    expect(value.massMatrix).toBeNear([[inertia]], { relative: 1e-14 })
  })
})

describe('joints that mimic others, on a base that stands fast', () => {
  const mass = (value: number, at = '0 0 0') =>
    `<inertial><origin xyz="${at}"/><mass value="${value}"/><inertia ixx="1" iyy="1" izz="1" ixy="0" ixz="0" iyz="0"/></inertial>`
  const slide = (name: string, parent: string, child: string, more = '') =>
    `<joint name="${name}" type="prismatic"><parent link="${parent}"/><child link="${child}"/><axis xyz="1 0 0"/>
      <limit lower="-9" upper="9" effort="9" velocity="9"/>${more}</joint>`
  const gripper = `<robot name="gripper"><link name="stand">${mass(3, '0 0 1')}</link>
    <link name="near">${mass(2)}</link><link name="far">${mass(4)}</link>
    ${slide('open', 'stand', 'near')}${slide('follow', 'near', 'far', '<mimic joint="open" multiplier="0.5" offset="0.1"/>')}</robot>`
  const state = { q: { open: 0.6 }, qd: { open: 2 } }

  it('move with them: mass, speed, energy, momentum', async () => {
    const { value } = await ask(gripper, {
      ...{ gravity: [0, 0, 0], state, torque: { open: 22, follow: 11 }, acceleration: { open: 1 } },
      ask: ['massMatrix', 'forward', 'inverse', 'energy', 'momentum', 'poses', 'jacobian:far', 'centerOfMass'],
    })
    expect(value.order).toEqual(['open'])
    // 2 kg at v and 4 kg at 1.5 v
    expect(value.massMatrix).toBeNear([[2 + 4 * 1.5 ** 2]], { relative: 1e-12 })
    expect(value.energy.kinetic).toBeNear(0.5 * 11 * 2 ** 2, { relative: 1e-12 })
    expect((value.momentum as unknown as { linear: number[] }).linear).toBeNear([2 * 2 + 4 * 3, 0, 0], { absolute: 1e-12 })
    expect(value.forward).toBeNear([(22 + 0.5 * 11) / 11], { relative: 1e-12 })
    expect(value.inverse).toBeNear([11], { relative: 1e-12 })
    expect(value.poses['far']!.position).toBeNear([0.6 + 0.4, 0, 0], { absolute: 1e-12 })
    expect((value as unknown as Record<string, number[][]>)['jacobian:far']![3]).toBeNear([1.5], { relative: 1e-12 })
    expect(value.centerOfMass).toBeNear([(2 * 0.6 + 4 * 1) / 9, 0, 3 / 9], { absolute: 1e-12 })
  })

  it('cannot be somewhere else', async () => {
    const { status, value } = await ask(gripper, { state: { q: { open: 0.6, follow: 0.7 } }, ask: ['poses'] })
    expect(status).toBe(2)
    expect(JSON.stringify(value)).toMatch(/follow mimics open and so is at 0.4, not at 0.7/)
  })
})
