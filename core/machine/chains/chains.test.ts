import { describe, expect, it } from 'vitest'
import { multiply, solve, transpose } from '../../algebra'
import type { Part } from '../../document'
import { bodyPart, fourBar, jointPart, mechanismPart, plausible } from '../../tests/parts'
import { numbersFrom } from '../../tests/randomGraph'
import { reference } from '../../tests/reference'
import { assemble, bodyPoses, chainRowsOf, closeChains, numbersOf, positionRates } from '../index'
import { chains } from './index'

const degrees = Math.PI / 180

function rowsAt(machine: Part, q: readonly number[], speeds: readonly number[]) {
  const read = numbersOf(machine)
  const assembly = assemble(machine, read)
  return chainRowsOf(machine, read, assembly, { q, speeds }, bodyPoses(assembly.tree, q))
}

describe.each(chains)('a chain that $label', (kind) => {
  const names = { from: 'arm', to: 'stick', joint: 'arm.angle', source: 'stick.angle' }
  const part = plausible(kind, names, (slot) => (slot === 'ratio' ? 1.5 : 0.3))
  const machine = mechanismPart(
    {
      arm: bodyPart(1, [0.1, 0, 0], [0.1, 0.1, 0.1], jointPart('turning', 'ground', [0, 0, 1], { axis: [0.3, 1, 0.1] })),
      ring: bodyPart(1, [0, 0.1, 0], [0.1, 0.1, 0.1], jointPart('ball', 'ground', [0.4, 0, 0.2])),
      stick: bodyPart(1, [0, 0, 0.1], [0.1, 0.1, 0.1], jointPart('turning', 'ring', [0, 0.2, 0], { axis: [1, 0.2, 0.4] })),
    },
    { chains: { it: { ...part, toAxis: [0.1, 1, -0.4] } } },
  )
  const next = numbersFrom(77)
  const { tree, start, speeds: names2 } = assemble(machine, numbersOf(machine))
  const q = start.map((value) => value + 0.4 * (next() - 0.5))
  const speeds = names2.map(() => 3 * (next() - 0.5))
  const accelerations = names2.map(() => 3 * (next() - 0.5))
  const h = 1e-5
  const rates = positionRates(tree, { q, speeds }) as number[]
  const rows = rowsAt(machine, q, speeds)

  it('has rates that are the derivatives of its gaps', () => {
    const later = (by: number) =>
      rowsAt(
        machine,
        q.map((value, i) => value + by * rates[i]!),
        speeds,
      ).map(({ gap }) => gap as number)
    const measured = later(h).map((gap, i) => (gap - later(-h)[i]!) / (2 * h))
    expect(rows.map(({ rate }) => rate)).toBeNear(measured, { relative: 1e-7, absolute: 1e-8 })
    const byJacobian = rows.map(({ jacobian }) =>
      jacobian.reduce<number>((sum, entry, i) => sum + (entry as number) * speeds[i]!, 0),
    )
    expect(byJacobian).toBeNear(
      rows.map(({ rate }) => rate),
      { relative: 1e-12, absolute: 1e-13 },
    )
  })

  it('has second derivatives that are Jacobian times acceleration plus bias', () => {
    // positions to second order, so that the rates are right to the order that a central difference sees
    const later = (by: number) => {
      const then = speeds.map((value, i) => value + by * accelerations[i]!)
      const half = positionRates(tree, {
        q: q.map((value, i) => value + (by / 2) * rates[i]!),
        speeds: speeds.map((value, i) => value + (by / 2) * accelerations[i]!),
      }) as number[]
      return rowsAt(
        machine,
        q.map((value, i) => value + by * half[i]!),
        then,
      ).map(({ rate }) => rate as number)
    }
    const measured = later(h).map((rate, i) => (rate - later(-h)[i]!) / (2 * h))
    const computed = rows.map(({ jacobian, bias }) =>
      jacobian.reduce<number>((sum, entry, i) => sum + (entry as number) * accelerations[i]!, bias as number),
    )
    expect(computed).toBeNear(measured, { relative: 1e-6, absolute: 1e-6 })
  })
})

describe('a closed four-bar', () => {
  // closed form, see the file
  const { inputs, expected } = reference<
    Record<'crank' | 'coupler' | 'rocker' | 'ground' | 'theta2_deg' | 'omega2', number>,
    Record<'theta3_deg' | 'theta4_deg' | 'omega3' | 'omega4' | 'alpha3' | 'alpha4', number>
  >('kin-fourbar')
  const crank = inputs.theta2_deg * degrees
  // the coupler's coordinate is its angle against the crank
  const machine = fourBar(inputs, { crank, coupler: 30 * degrees - crank, rocker: 100 * degrees })
  const closure = closeChains(machine)
  if (closure.kind === 'open') throw new Error('The four-bar closes.')

  /** The pose with the crank held: Newton's steps on the rocker and coupler only. In the order of the tree. */
  const pose = (() => {
    const q = [crank, 100 * degrees, 30 * degrees - crank]
    for (let i = 0; i < 20; i++) {
      const [x, y] = rowsAt(machine, q, [0, 0, 0])
      const j = [x!, y!].map(({ jacobian }) => [jacobian[1] as number, jacobian[2] as number])
      const change = solve(j, [[-(x!.gap as number)], [-(y!.gap as number)]])!
      q[1]! += change[0]![0]!
      q[2]! += change[1]![0]!
    }
    return q
  })()
  const absolute = [pose[0]!, pose[0]! + pose[2]!, pose[1]!]

  it('stands at the computed angles', () => {
    expect(absolute.map((angle) => angle / degrees)).toBeNear([60, expected.theta3_deg, expected.theta4_deg], { relative: 1e-10 })
  })

  /** The other two speeds (or accelerations) that go with the crank's. */
  const following = (driving: number, right: readonly number[]) => {
    const [x, y] = rowsAt(machine, pose, [0, 0, 0])
    const j = [x!, y!].map(({ jacobian }) => jacobian as number[])
    const wanted = right.map((value, i) => [value - j[i]![0]! * driving])
    return solve(
      j.map((row) => [row[1]!, row[2]!]),
      wanted,
    )!.map(([value]) => value!)
  }
  const [rockerRate, couplerRate] = following(inputs.omega2, [0, 0])

  it('moves with the computed speeds', () => {
    expect([inputs.omega2 + couplerRate!, rockerRate!]).toBeNear([expected.omega3, expected.omega4], { relative: 1e-10 })
  })

  it('moves with the computed accelerations', () => {
    const speeds = [inputs.omega2, rockerRate!, couplerRate!]
    const bias = rowsAt(machine, pose, speeds)
      .slice(0, 2)
      .map((row) => -(row.bias as number))
    const [rocker, coupler] = following(0, bias)
    expect([coupler!, rocker!]).toBeNear([expected.alpha3, expected.alpha4], { relative: 1e-9 })
  })

  it('keeps two of the five equations of its hinge: the others say nothing new in a plane', () => {
    expect(closure).toMatchObject({ kept: [0, 1], redundant: 3, freedoms: 1 })
    expect(closure.gap).toBeLessThan(1e-11)
  })
})

describe('chains that cannot close', () => {
  it('are told by how much', () => {
    const machine = fourBar({ crank: 0.1, coupler: 0.2, rocker: 0.15, ground: 0.6 }, { crank: 0, coupler: 0, rocker: Math.PI })
    const closure = closeChains(machine)
    expect(closure.kind).toBe('open')
    expect(closure.gap).toBeNear(0.6 - 0.1 - 0.2 - 0.15, { relative: 1e-3 }) // stretched out, the gap that stays
  })
})

describe('a start that is far from closed', () => {
  it('closes by the smallest change', () => {
    const machine = fourBar({ crank: 0.1, coupler: 0.3, rocker: 0.25, ground: 0.35 }, { crank: 1, coupler: 0.5, rocker: 1 })
    const closure = closeChains(machine)
    expect(closure.kind).toBe('closed')
    expect(closure.gap).toBeLessThan(1e-11)
  })

  it('closes where all lie in one line at the start, so that no joint moves the gap', () => {
    const closure = closeChains(
      fourBar({ crank: 0.2, coupler: 0.3, rocker: 0.3, ground: 0.5 }, { crank: 0, coupler: 0, rocker: 0 }),
    )
    expect(closure).toMatchObject({ kind: 'closed', freedoms: 1 })
  })

  it('closes from wherever the joints of a chain that can close start', () => {
    const next = numbersFrom(3)
    for (let i = 0; i < 60; i++) {
      const [crank, coupler, rocker] = [0.1 + 0.2 * next(), 0.1 + 0.4 * next(), 0.1 + 0.4 * next()]
      // longer than the longest of the rest by itself, shorter than all of them: some pose closes
      const longest = Math.max(crank, coupler, rocker)
      const least = Math.max(0, 2 * longest - crank - coupler - rocker)
      const ground = least + (0.02 + 0.96 * next()) * (crank + coupler + rocker - least)
      const angles = { crank: 6 * next() - 3, coupler: 6 * next() - 3, rocker: 6 * next() - 3 }
      expect(closeChains(fourBar({ crank, coupler, rocker, ground }, angles)).kind).toBe('closed')
    }
  })
})

it('a joint that follows another stands where ratio and offset say', () => {
  const sliding = (y: number) =>
    bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, y, 0], { axis: [1, 0, 0] }))
  const follows = { kind: 'coupled', joint: 'stick.travel', source: 'arm.travel', ratio: -2, offset: 0.3 }
  const machine = mechanismPart({ arm: sliding(0), stick: sliding(1) }, { chains: { follows } })
  const { q } = closeChains(machine, [0.4, 0]) as { q: readonly number[] }
  expect(q[1]! - -2 * q[0]!).toBeNear(0.3, { absolute: 1e-11 })
})

it('a hinge that is turned by an angle across its axis gapes by the sine, however long the axis is written', () => {
  const ball = (y: number) => bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('ball', 'ground', [0, y, 0]))
  const [half, sine] = [Math.sin(0.05), Math.sin(0.1)]
  const axes = [[1, 0, 0], [0, 1, 0], [0, 0, 1], [0, 0, 2], [0.5, 0, 0], [3, 4, 0], [0, -3, 4]] // prettier-ignore
  for (const axis of axes)
    for (const about of [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]) {
      const pin = { kind: 'hinged', from: 'arm', fromAt: [0, 1, 0], to: 'stick', toAt: [0, 0, 0], axis, toAxis: axis }
      const machine = mechanismPart({ arm: ball(0), stick: ball(1) }, { chains: { pin } })
      const turned = [Math.cos(0.05), ...about.map((part) => part * half)]
      const gaps = rowsAt(machine, [1, 0, 0, 0, ...turned], [0, 0, 0, 0, 0, 0]).map(({ gap }) => gap as number)
      const unit = axis.map((part) => part / Math.hypot(...axis))
      const along = unit.reduce((sum, part, k) => sum + part * about[k]!, 0)
      expect(gaps.slice(0, 3)).toBeNear([0, 0, 0], { absolute: 1e-15 })
      // the axis moves by the part of the turn across it, and by the second order along it
      const moved = Math.hypot(sine * Math.sqrt(1 - along ** 2), (1 - Math.cos(0.1)) * along * Math.sqrt(1 - along ** 2))
      expect(Math.hypot(...gaps.slice(3))).toBeNear(moved, { relative: 1e-9, absolute: 1e-12 })
    }
})

describe('the virtual work of linkages', () => {
  it('balances a crank against a load, as computed', () => {
    // virtual work, see the file: the torque on the crank for a force on the pin between crank and coupler
    interface Case {
      readonly inputs: {
        parallelogram: { crank: number; coupler: number; load_at_crank_pin: { crank_deg: number; force_xy: number[] }[] }
      }
      readonly expected: { parallelogram: { torque_to_balance: number }[] }
    }
    const { inputs, expected } = reference<Case['inputs'], Case['expected']>('kin-linkage-torque')
    const { crank, coupler, load_at_crank_pin } = inputs.parallelogram
    load_at_crank_pin.forEach(({ crank_deg, force_xy }, k) => {
      const angle = crank_deg * degrees
      const machine = fourBar(
        { crank, coupler, rocker: crank, ground: coupler },
        { crank: angle, coupler: -angle, rocker: angle },
      )
      const closure = closeChains(machine)
      if (closure.kind === 'open') throw new Error('A parallelogram closes.')
      const rows = rowsAt(machine, closure.q, [0, 0, 0])
      const j = closure.kept.map((row) => rows[row]!.jacobian as number[])
      // the only motion: null space of the kept rows, scaled to one radian a second of the crank
      const rest = solve(
        j.map((row) => [row[1]!, row[2]!]),
        j.map((row) => [-row[0]!]),
      )!
      const motion = [1, rest[0]![0]!, rest[1]![0]!]
      expect(multiply(j, transpose([motion])).flat()).toBeNear([0, 0], { absolute: 1e-12 })
      const pinSpeed = [-crank * Math.sin(angle), crank * Math.cos(angle)]
      const power = force_xy[0]! * pinSpeed[0]! + force_xy[1]! * pinSpeed[1]!
      expect(-power).toBeNear(expected.parallelogram[k]!.torque_to_balance, { relative: 1e-9 })
      expect(motion[1]).toBeNear(1, { relative: 1e-9 }) // crank and rocker turn alike
    })
  })
})
