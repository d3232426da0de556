import { describe, expect, it } from 'vitest'
import { product, quaternionOf } from '../algebra'
import type { Quaternion } from '../algebra'
import { partsIn, replaceAt } from '../document'
import type { Part } from '../document'
import { assemble, designLayers, energies, totalMass, numbersOf } from '../machine'
import { demo, farFromGround, lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { fourBarAt } from '../tests/parts'
import { reference } from '../tests/reference'
import { followingJoints, inverseProblem, inversePushes, linearMachine } from './index'
import type { Motion } from './index'

const degrees = Math.PI / 180

describe('closed chains turned round', () => {
  // elementary virtual work, computed twice; see the file
  const { inputs, expected } = reference<
    { four_bar: Record<'crank' | 'coupler' | 'rocker' | 'ground' | 'rocker_moment', number> },
    { four_bar: { crank_deg: number; crank_torque_to_balance_M4_10: number }[] }
  >('kin-linkage-torque')
  const { crank, coupler, rocker, ground, rocker_moment } = inputs.four_bar
  /** The linkage with its crank at an angle, worked out by triangles. */
  const linkage = (angle: number, moment: number): Part => {
    const bar = fourBarAt({ crank, coupler, rocker, ground }, angle)
    const bodies = Object.entries(partsIn(bar.bodies)).map(([name, body]) => [
      name,
      { ...body, mass: 2, centre: [0.1, 0, 0], inertia: [0.3, 0.3, 0.3, 0, 0, 0] },
    ])
    return {
      ...bar,
      bodies: Object.fromEntries(bodies) as Record<string, Part>,
      gravity: 0,
      drives: { motor: { kind: 'effortDrive', joint: 'crank.angle', most: 1e6, inertia: 0 } },
      forces: { moment: { kind: 'formulaEffort', joint: 'rocker.angle', effort: String(moment) } },
    }
  }
  const start = 40 * degrees
  const sides = [{ push: 'drives.motor', holds: 'crank.angle' }]
  /** The crank's torque at a motion, its linkage followed there from the start in small steps. */
  const torque = (machine: Part, [angle, rate, acceleration]: readonly [number, number, number]) => {
    const { operatingPoint } = expectDone(linearMachine(machine, designLayers.all))
    const following = followingJoints(machine, operatingPoint, sides)!
    const asked = (motion: Motion) => sides.map((side) => ({ ...side, motion }))
    let dependents = following.start
    const read = numbersOf(machine)
    for (const share of [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1, 1, 1])
      dependents = following.next(read, asked([start + (angle - start) * share, 0, 0]), dependents) as readonly number[]
    const [push] = inversePushes(machine, read, operatingPoint, asked([angle, rate, acceleration]), 'withFriction', dependents)
    return { push: push as number, dependents }
  }

  it.each(expected.four_bar)('balance a moment on the rocker of a four-bar, crank at $crank_deg degrees', (one) => {
    const machine = linkage(start, rocker_moment)
    const { push } = torque(machine, [one.crank_deg * degrees, 0, 0])
    expect(push).toBeNear(one.crank_torque_to_balance_M4_10, { relative: 1e-7 })
  })

  // conservation of energy: common practice, no source
  it('put in the power by which the energy of all links grows', () => {
    const machine = linkage(start, 0)
    const tree = assemble(machine, numbersOf(machine)).tree
    const [rate, acceleration] = [1.7, -0.9]
    const angleAt = (t: number) => 1.2 + rate * t + 0.5 * acceleration * t * t
    const speedAt = (t: number) => rate + acceleration * t
    const poseAt = (t: number) => [angleAt(t), ...poseOf(machine, torque(machine, [angleAt(t), 0, 0]).dependents)]
    const step = 1e-4
    const energyAt = (t: number) => {
      const [before, now, after] = [t - step, t, t + step].map(poseAt) as [number[], number[], number[]]
      const speeds = now.map((_, i) => (after[i]! - before[i]!) / (2 * step))
      return energies(tree, { q: now, speeds }).kinetic as number
    }
    const grown = (energyAt(0.01) - energyAt(-0.01)) / 0.02
    const { push } = torque(machine, [angleAt(0), speedAt(0), acceleration])
    expect(push * speedAt(0)).toBeNear(grown, { relative: 1e-4 })
    expect(Math.abs(grown)).toBeGreaterThan(0.1)
  })

  it('are refused where what is held leaves them no way to move', () => {
    const machine = linkage(start, 0)
    const { operatingPoint } = expectDone(linearMachine(machine, designLayers.all))
    const both = [...sides, { push: 'drives.motor', holds: 'rocker.angle' }]
    expect(inverseProblem(machine, operatingPoint, both)).toMatchObject({ what: /no way to move/ })
  })
})

/** Positions of the joints behind the crank, in the order of the machine. */
function poseOf(machine: Part, dependents: readonly number[]): readonly number[] {
  const { operatingPoint } = expectDone(linearMachine(machine, designLayers.all))
  const following = followingJoints(machine, operatingPoint, [{ push: 'drives.motor', holds: 'crank.angle' }])!
  const names = Object.keys(operatingPoint.states).slice(1, 1 + dependents.length)
  // dependents come in the order in which they were chosen: found again by where they start
  return names.map((name) => dependents[following.start.findIndex((value) => value === operatingPoint.states[name])]!)
}

describe('a lifter turned round', () => {
  const machine = farFromGround(lamplighter()).machines.lamplighter!
  const read = numbersOf(machine)
  const { operatingPoint } = expectDone(linearMachine(machine, designLayers.all))
  const sides = [
    { push: 'pushes.lift', holds: 'readings.place.height' },
    { push: 'pushes.rollMoment', holds: 'readings.attitude.roll' },
    { push: 'pushes.pitchMoment', holds: 'readings.attitude.pitch' },
    { push: 'pushes.yawMoment', holds: 'readings.attitude.heading' },
  ]
  /** Of all its bodies about their common centre, by Steiner's theorem. */
  const wholeInertia = () => {
    interface Rigid {
      readonly mass: number
      readonly centre: readonly number[]
      readonly inertia: readonly number[]
    }
    const bodies = Object.values(machine.bodies as unknown as Record<string, Rigid>)
    const total = bodies.reduce((sum, { mass }) => sum + mass, 0)
    const middle = [0, 1, 2].map((k) => bodies.reduce((sum, { mass, centre }) => sum + mass * centre[k]!, 0) / total)
    return [0, 1, 2].map((i) =>
      [0, 1, 2].map((j) =>
        bodies.reduce((sum, { mass, centre, inertia }) => {
          const d = centre.map((value, k) => value - middle[k]!)
          const own = i === j ? inertia[i]! : inertia[2 + i + j]!
          const square = i === j ? d.reduce((all, value) => all + value * value, 0) : 0
          return sum + own + mass * (square - d[i]! * d[j]!)
        }, 0),
      ),
    )
  }
  const path = (t: number) => [0.4 * t * t, 0.5 + 0.8 * t - 0.3 * t * t, -0.4 - 0.9 * t + 0.5 * t * t, 1 + 1.5 * t + 0.7 * t * t]
  const step = 1e-4
  const motionOf = (i: number): Motion => {
    const [before, now, after] = [-step, 0, step].map((t) => path(t)[i]!) as [number, number, number]
    return [now, (after - before) / (2 * step), (after - 2 * now + before) / step ** 2]
  }
  const pushes = inversePushes(
    machine,
    read,
    operatingPoint,
    sides.map((side, i) => ({ ...side, motion: motionOf(i) })),
  ) as readonly number[]

  it("needs the moments of Euler's equations, from quaternions differenced in time", () => {
    const orientation = (t: number) => {
      const [, roll, pitch, heading] = path(t)
      return quaternionOf({ roll: roll!, pitch: pitch!, heading: heading! }) as readonly number[]
    }
    const omega = (t: number) => {
      const [w, x, y, z] = orientation(t) as [number, number, number, number]
      const rate = orientation(t + step).map((value, i) => (value - orientation(t - step)[i]!) / (2 * step))
      return product([w, -x, -y, -z], rate as unknown as Quaternion)
        .slice(1)
        .map((value) => 2 * (value as number))
    }
    const now = omega(0)
    const grows = omega(step).map((value, i) => (value - omega(-step)[i]!) / (2 * step))
    const inertia = wholeInertia()
    const times = (v: readonly number[]) => inertia.map((row) => row.reduce((sum, value, i) => sum + value * v[i]!, 0))
    const spin = times(now)
    const [a, b, c] = times(grows) as [number, number, number]
    const euler = [
      a + now[1]! * spin[2]! - now[2]! * spin[1]!,
      b + now[2]! * spin[0]! - now[0]! * spin[2]!,
      c + now[0]! * spin[1]! - now[1]! * spin[0]!,
    ]
    expect(pushes.slice(1)).toBeNear(euler, { relative: 1e-5 })
  })

  it('lifts what its tilt leaves upward: force over the cosine', () => {
    const mass = totalMass(machine)
    const upward = Math.cos(path(0)[1]!) * Math.cos(path(0)[2]!)
    expect(pushes[0]! * upward).toBeNear(mass * ((read('gravity') as number) + 0.8), { relative: 1e-5 })
  })

  it('does not know parts of a vector', () => {
    const asked = [{ push: 'pushes.rollMoment', holds: 'readings.attitude.tiltEast' }]
    expect(inverseProblem(machine, operatingPoint, asked)).toMatchObject({ what: /tilt/, remedy: /roll and pitch/ })
  })
})

describe('what hangs upright from what is turned', () => {
  const { derrick } = demo('derrick').machines as { derrick: Part }
  const rise = 0.5
  const pointOf = (machine: Part) => expectDone(linearMachine(machine, designLayers.all)).operatingPoint

  it('follows exactly: the pushes are those that hold the machine where it then rests', () => {
    const loops = Object.values(demo('derrick').loops)
    const rest = pointOf(derrick)
    const asked = loops.map(({ pushes, holds }) => {
      const at = (rest.states[holds] ?? 0) + (holds === 'boom.angle' ? rise : 0)
      return { push: pushes, holds: holds, motion: [at, 0, 0] as Motion }
    })
    const start = (body: string) => (derrick.bodies as Record<string, { joint: { start: number } }>)[body]!.joint.start
    const raised = replaceAt(
      replaceAt(derrick, 'bodies.boom.joint.start', start('boom') + rise),
      'bodies.sheave.joint.start',
      start('sheave') - rise, // the rope leaves it straight down
    )
    const there = pointOf(raised)
    expect(inversePushes(derrick, numbersOf(derrick), rest, asked)).toBeNear(
      asked.map(({ push }) => there.pushes[push]!),
      { relative: 1e-9, absolute: 1e-6 },
    )
  })
})
