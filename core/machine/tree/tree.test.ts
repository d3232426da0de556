import { describe, expect, it } from 'vitest'
import { multiply, plus, scaled, spatialDot } from '../../algebra'
import type { Spatial, Vector } from '../../algebra'
import { plainBodies } from '../../tests/plainBodies'
import { plainForwardDynamics } from '../../tests/plainDynamics'
import { randomMechanism } from '../../tests/randomMechanism'
import type { Part } from '../../document'
import { Graph, evaluate, jacobianAt as slopesAt } from '../../expression'
import type { Scalar } from '../../expression'
import { assemble } from '../assemble'
import { joints } from '../joints'
import { numbersOf } from '../numbers'
import {
  biasEfforts,
  bodyPoses,
  energies,
  forwardDynamics,
  forwardDynamicsDerivatives,
  inverseDynamics,
  pointJacobian,
  massMatrix,
  momentum,
  motionOf,
  positionRates,
} from './index'
import type { TreeState } from './index'

const numbers = (values: readonly unknown[]) => values as number[]
const seeds = Array.from({ length: 300 }, (_, i) => i + 1)

describe('the three algorithms', () => {
  it.each(seeds)('agree on any tree, seed %i', (seed) => {
    const { assembly, q, speeds, efforts, accelerations } = randomMechanism(seed, 2 + (seed % 7))
    // every other tree has rotors geared to its joints
    const bodies = assembly.tree.bodies.map((body, i) =>
      seed % 2 === 0 ? body : { ...body, armature: Array.from({ length: body.speeds }, (_, k) => 0.1 + 0.2 * ((i + k) % 3)) },
    )
    const tree = { ...assembly.tree, bodies }
    const state = { q, speeds }
    const push = tree.bodies.map((_, i): Spatial | undefined =>
      i % 2 === 0 ? undefined : { angular: [0.3 * i, -1, 2], linear: [4, -0.5 * i, 1] },
    )
    const reached = numbers(forwardDynamics(tree, state, efforts, push))
    // inertias over three decades cost some digits
    expect(inverseDynamics(tree, state, reached, push)).toBeNear(efforts, { relative: 1e-10, absolute: 1e-10 })

    const needed = numbers(inverseDynamics(tree, state, accelerations, push))
    const m = massMatrix(tree, state) as number[][]
    const bias = numbers(biasEfforts(tree, state, push))
    const composed = multiply(
      m,
      accelerations.map((value) => [value]),
    ).map(([value], i) => value! + bias[i]!)
    expect(composed).toBeNear(needed, { relative: 1e-10, absolute: 1e-10 })
    m.forEach((row, i) => row.forEach((value, j) => expect(value).toBe(m[j]![i])))
  })
})

describe.each(joints.filter(({ speeds }) => speeds.length > 0))('the joint that $label', (kind) => {
  const made = randomMechanism(40 + kind.name.length, 3, [kind.name])
  const { tree } = made.assembly
  const h = 1e-6

  /** The state a moment later, and before, by the joint's own rates. */
  const shifted = (by: number): number[] => {
    const rates = numbers(positionRates(tree, made))
    return made.q.map((value, i) => value + by * rates[i]!)
  }

  it('moves its pose as its speeds say', () => {
    // the velocity of each body's origin and of a point beside it, from the subspace and from differences of the poses
    const [before, after] = [bodyPoses(tree, shifted(-h)), bodyPoses(tree, shifted(h))]
    const at = bodyPoses(tree, made.q)
    tree.bodies.forEach((_, i) => {
      const beside: Vector = [0.3, -0.2, 0.5]
      const point = (poses: typeof at): number[] =>
        [0, 1, 2].map((k) => {
          const { rotation, position } = poses[i]!
          return (
            (position[k]! as number) + [0, 1, 2].reduce((sum, l) => sum + (rotation[k]![l]! as number) * (beside[l] as number), 0)
          )
        })
      const measured = point(after).map((value, k) => (value - point(before)[k]!) / (2 * h))
      const columns = pointJacobian(tree, made.q, i, point(at) as unknown as Vector)
      const computed = columns.reduce<Vector>((sum, { linear }, k) => plus(sum, scaled(linear, made.speeds[k]!)), [0, 0, 0])
      expect(computed).toBeNear(measured, { relative: 1e-7, absolute: 1e-8 }) // a central difference
    })
  })

  it('keeps the power balance: kinetic energy changes as the efforts and gravity work', () => {
    const accelerations = numbers(forwardDynamics(tree, made, made.efforts))
    const total = (by: number) => {
      const state: TreeState = { q: shifted(by), speeds: made.speeds.map((value, i) => value + by * accelerations[i]!) }
      const { kinetic, potential } = energies(tree, state) as { kinetic: number; potential: number }
      return kinetic + potential
    }
    const power = made.efforts.reduce((sum, effort, i) => sum + effort * made.speeds[i]!, 0)
    expect((total(h) - total(-h)) / (2 * h)).toBeNear(power, { relative: 1e-6, absolute: 1e-6 })
  })

  it('has as many speeds as its subspace has columns, and names for all of them', () => {
    const moved = motionOf(tree, made)
    moved.forEach(({ subspace }) => expect(subspace).toHaveLength(kind.speeds.length))
    expect(kind.rest).toHaveLength(kind.positions.length)
    const names = [...kind.positions, ...kind.speeds].map(({ name }) => name)
    expect(new Set(names).size).toBe(names.length)
  })
})

describe('derivatives of forward dynamics', () => {
  it.each([1, 2, 3, 4, 5])('agree with those of forward dynamics itself, seed %i', (seed) => {
    const { assembly, q, speeds, efforts } = randomMechanism(seed + 50, 4, ['turning', 'sliding', 'turningSliding'])
    const n = speeds.length
    const graph = new Graph()
    const slots = (from: number) => Array.from({ length: n }, (_, i) => graph.slot(from + i))
    const [qs, vs, ts, as] = [slots(0), slots(n), slots(2 * n), slots(3 * n)]
    const reached = forwardDynamics(assembly.tree, { q: qs, speeds: vs }, ts)
    const before = [...q, ...speeds, ...efforts]
    const memory = [...before, ...numbers(forwardDynamics(assembly.tree, { q, speeds }, efforts))]
    const direct = slopesAt(reached, [...Array(3 * n).keys()], memory)
    const value = (row: readonly Scalar[]) => row.map((one) => evaluate(one, memory))
    for (const accelerations of [as, reached]) {
      const { byPosition, bySpeed, byEffort } = forwardDynamicsDerivatives(assembly.tree, qs, vs, accelerations)
      const ours = byPosition.map((row, i) => [...value(row), ...value(bySpeed[i]!), ...value(byEffort[i]!)])
      expect(ours).toBeNear(direct, { relative: 1e-9, absolute: 1e-9 })
    }
  })
})

describe('an implementation of its own', () => {
  it.each(seeds.slice(0, 60))('agrees on trees of turning and sliding joints, seed %i', (seed) => {
    const { assembly, machine, q, speeds, efforts } = randomMechanism(seed + 1000, 2 + (seed % 6), ['turning', 'sliding'])
    const plain = plainForwardDynamics(plainBodies(assembly.tree, machine), [0, 0, -9.80665], q, speeds, efforts)
    const ours = forwardDynamics(assembly.tree, { q, speeds }, efforts)
    expect(ours).toBeNear(plain, { relative: 1e-9, absolute: 1e-9 }) // light joints on heavy ones cost digits
  })
})

describe('momentum', () => {
  it.each([1, 2, 3, 4, 5])('of a free tree changes only by what acts from outside, seed %i', (seed) => {
    const made = randomMechanism(seed * 17, 4, ['turning', 'ball', 'sliding'])
    const { machine } = made
    const bodies = machine.bodies as Record<string, { joint: { kind: string; on: string } }>
    Object.values(bodies).forEach(({ joint }, i) => {
      if (i === 0) joint.kind = 'free'
      else if (joint.on === 'ground') joint.on = 'body0'
    })
    const weightless = { ...machine, gravity: 0 }
    const { tree, state } = assembled(weightless, made.speeds)
    const none = state.speeds.map(() => 0)
    const accelerations = numbers(forwardDynamics(tree, state, none))
    const rates = numbers(positionRates(tree, state))
    const h = 1e-6
    const later = (by: number) =>
      momentum(tree, {
        q: state.q.map((value, i) => value + by * rates[i]!),
        speeds: state.speeds.map((value, i) => value + by * accelerations[i]!),
      })
    const [a, b] = [later(-h), later(h)]
    const change = [...b.angular, ...b.linear].map(
      (value, i) => ((value as number) - ([...a.angular, ...a.linear][i] as number)) / (2 * h),
    )
    const size = Math.sqrt(spatialDot(a, a) as number)
    expect(change).toBeNear([0, 0, 0, 0, 0, 0], { absolute: 1e-6 * Math.max(1, size) })
  })
})

function assembled(machine: Part, speeds: readonly number[]) {
  const { tree, start, speeds: names } = assemble(machine, numbersOf(machine))
  const q = start.map((value, i) => value + 0.1 * Math.sin(3 * i + 1))
  return { tree, state: { q, speeds: names.map((_, i) => speeds[i % speeds.length]!) } }
}
