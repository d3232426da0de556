import type { Part } from '../document'
import { assemble, joints, numbersOf } from '../machine'
import type { Assembly } from '../machine'
import { numbersFrom } from './randomGraph'

export interface RandomMechanism {
  readonly machine: Part
  readonly assembly: Assembly
  readonly q: number[]
  readonly speeds: number[]
  /** One a speed. */
  readonly efforts: number[]
  readonly accelerations: number[]
}

/** A tree of bodies that could exist, with all sorts of joints; the same for the same seed. */
export function randomMechanism(seed: number, count: number, kinds = joints.map(({ name }) => name)): RandomMechanism {
  const next = numbersFrom(seed)
  const between = (least: number, most: number) => least + (most - least) * next()
  const vector = (size: number) => [between(-size, size), between(-size, size), between(-size, size)]
  const bodies: Record<string, Part> = {}
  for (let i = 0; i < count; i++) {
    const parent = i === 0 ? -1 : Math.floor(between(Math.max(-1, i - 3), i))
    const joint: Record<string, unknown> = {
      kind: kinds[Math.floor(next() * kinds.length)]!,
      on: parent < 0 ? 'ground' : `body${parent}`,
      at: vector(0.5),
      turned: vector(3),
    }
    for (const axis of ['axis', 'first']) joint[axis] = next() < 0.4 ? [0, 0, next() < 0.5 ? 1 : -1] : vector(1)
    joint.second = vector(1)
    bodies[`body${i}`] = {
      kind: 'linkedBody',
      mass: 10 ** between(-1.5, 1.5),
      centre: vector(0.2),
      inertia: cloudInertia(vector),
      joint: joint as Part,
    }
  }
  const machine: Part = { kind: 'mechanism', gravity: 9.80665, bodies }
  const assembly = assemble(machine, numbersOf(machine))
  const list = (n: number, size: number) => Array.from({ length: n }, () => between(-size, size))
  const n = assembly.speeds.length
  return {
    machine,
    assembly,
    q: assembly.positions.map(({ name, unit }, i) =>
      unit === '' ? assembly.start[i]! + between(-0.4, 0.4) : name ? between(-2, 2) : 0,
    ),
    speeds: list(n, 2),
    efforts: list(n, 10),
    accelerations: list(n, 5),
  }
}

/** The inertia of some points: one that a body can have. */
function cloudInertia(vector: (size: number) => number[]): number[] {
  const points = Array.from({ length: 5 }, () => vector(0.3))
  const sum = (of: (p: number[]) => number) => points.reduce((total, p) => total + of(p), 0)
  const product = (i: number, j: number) => -sum((p) => p[i]! * p[j]!)
  const moment = (i: number, j: number) => sum((p) => p[i]! ** 2 + p[j]! ** 2)
  return [moment(1, 2), moment(0, 2), moment(0, 1), product(0, 1), product(0, 2), product(1, 2)]
}
