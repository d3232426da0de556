import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { fullMechanism } from '../machine'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { mechanismPoint, modes } from './index'

// Formulas of J. P. Den Hartog, Mechanical Vibrations, ch. 2 and 3 and its appendix, and of every course of dynamics; all
// from memory. Each machine is drawn as an engineer would draw it, and its modes must be those of the formula.

const g = 9.80665
const y = { axis: [0, 1, 0] }
const x = { axis: [1, 0, 0] }
const ground: [number, number, number] = [0, 0, 0]

function frequencies(machine: Part): number[] {
  const { system } = expectDone(mechanismPoint(machine, fullMechanism))
  return expectDone(modes(system))
    .map(({ frequency }) => frequency)
    .sort((a, b) => a - b)
}

const spring = (joint: string, stiffness: number, damping = 0, rest = 0): Part => ({
  kind: 'jointSpring',
  joint,
  stiffness,
  damping,
  rest,
})

describe('a compound pendulum', () => {
  it('swings as its inertia about the pivot says', () => {
    const [m, d, inertia] = [2.4, 0.31, 0.08]
    const rod = bodyPart(m, [0, 0, -d], [inertia, inertia, 0.001], jointPart('turning', 'ground', ground, { ...y, start: 0.4 }))
    const expected = Math.sqrt((m * g * d) / (inertia + m * d * d))
    expect(frequencies(mechanismPart({ rod }))).toBeNear([expected], { relative: 1e-9 })
  })

  it('in a Cardan joint swings as fast both ways when it is round', () => {
    const [m, d, inertia] = [1.5, 0.6, 0.05]
    const cross = jointPart('twoAxis', 'ground', ground, { first: [1, 0, 0], second: [0, 1, 0] })
    const bob = bodyPart(m, [0, 0, -d], [inertia, inertia, 0.01], cross)
    const expected = Math.sqrt((m * g * d) / (inertia + m * d * d))
    expect(frequencies(mechanismPart({ bob }))).toBeNear([expected, expected], { relative: 1e-8 })
  })

  it('standing up is held by a spring that is stiffer than its weight is heavy, and by no softer one', () => {
    const [m, d] = [3, 0.5]
    const growth = (stiffness: number) => {
      const mast = bodyPart(m, [0, 0, d], [0.1, 0.1, 0.01], jointPart('turning', 'ground', ground, y))
      const machine = mechanismPart({ mast }, { forces: { spring: spring('mast.angle', stiffness) } })
      const { system } = expectDone(mechanismPoint(machine, fullMechanism))
      return Math.max(...expectDone(modes(system)).map(({ pole }) => pole.re))
    }
    const critical = m * g * d
    expect(growth(1.02 * critical)).toBeLessThan(1e-8)
    expect(growth(0.98 * critical)).toBeNear(Math.sqrt((0.02 * critical) / (0.1 + m * d * d)), { relative: 1e-8 })
  })
})

describe('two pendulums in a row', () => {
  it('of equal bobs and rods swing at ω² = (2 ± √2) g/l', () => {
    const length = 0.7
    const bob = (on: string, at: number) =>
      bodyPart(1, [0, 0, -length], [0, 0, 0], jointPart('turning', on, [0, 0, at], { ...y, start: 0.05 }))
    const found = frequencies(mechanismPart({ upper: bob('ground', 0), lower: bob('upper', -length) }))
    expect(found.map((frequency) => (frequency ** 2 * length) / g)).toBeNear([2 - Math.SQRT2, 2 + Math.SQRT2], {
      relative: 1e-8,
    })
  })
})

describe('masses between springs', () => {
  const block = (on: string, at: number) => bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', on, [at, 0, 0], x))

  it('two on a chain of two springs have the golden ratio in their modes', () => {
    // ω² = (k/m) (3 ± √5) / 2
    const machine = mechanismPart(
      { first: block('ground', 0), second: block('first', 0.5) },
      { forces: { a: spring('first.travel', 80), b: spring('second.travel', 80) } },
    )
    const golden = [(3 - Math.sqrt(5)) / 2, (3 + Math.sqrt(5)) / 2]
    expect(frequencies(machine).map((frequency) => (frequency ** 2 * 2) / 80)).toBeNear(golden, { relative: 1e-9 })
  })

  it('two between three equal springs move together at √(k/m) and against each other at √(3k/m)', () => {
    // the third spring is a line between points, the outer ones act on joints: both kinds must say the same
    const between: Part = {
      kind: 'pointSpring',
      from: 'left',
      fromAt: [0, 0, 0],
      to: 'right',
      toAt: [0, 0, 0],
      stiffness: 80,
      damping: 0,
      rest: 1,
    }
    const machine = mechanismPart(
      { left: block('ground', 0), right: block('ground', 1) },
      { forces: { a: spring('left.travel', 80), between, b: spring('right.travel', 80) } },
    )
    expect(frequencies(machine)).toBeNear([Math.sqrt(40), Math.sqrt(120)], { relative: 1e-9 })
  })
})

describe('a beam on two springs', () => {
  it('bounces at √(2k/m) and pitches at √(6k/m)', () => {
    const [m, length, k] = [12, 1.6, 900]
    const hanger = (end: number): Part => ({
      kind: 'pointSpring',
      from: 'ground',
      fromAt: [end, 0, 3],
      to: 'beam',
      toAt: [end, 0, 0],
      stiffness: k,
      damping: 0,
      rest: 1,
    })
    const lift = bodyPart(1e-9, [0, 0, 0], [1e-12, 1e-12, 1e-12], jointPart('sliding', 'ground', [0, 0, 2], { axis: [0, 0, 1] }))
    const about = (m * length ** 2) / 12
    const beam = bodyPart(m, [0, 0, 0], [0.01, about, about], jointPart('turning', 'lift', ground, y))
    const machine = mechanismPart({ lift, beam }, { forces: { left: hanger(-length / 2), right: hanger(length / 2) } })
    expect(frequencies(machine)).toBeNear([Math.sqrt((2 * k) / m), Math.sqrt((6 * k) / m)], { relative: 1e-7 })
  })
})

describe('discs on a shaft', () => {
  const disc = (on: string, inertia: number) =>
    bodyPart(1, [0, 0, 0], [inertia, inertia / 2, inertia / 2], jointPart('turning', on, [0.2, 0, 0], x))

  it('twist against each other, and the whole turns freely: angle and rate are two poles at 0', () => {
    const [near, far, k] = [0.013, 0.135, 180]
    const machine = mechanismPart(
      { motor: disc('ground', near), load: disc('motor', far) },
      { forces: { shaft: spring('load.angle', k) } },
    )
    expect(frequencies(machine)).toBeNear([0, 0, Math.sqrt(k * (1 / near + 1 / far))], { absolute: 1e-6 })
  })

  it('through a gear are one inertia: the faster counts with the square of the ratio', () => {
    const [slow, fast, ratio, k] = [0.4, 0.003, 12, 50]
    const machine = mechanismPart(
      { wheel: disc('ground', slow), pinion: disc('ground', fast) },
      {
        forces: { spring: spring('wheel.angle', k) },
        chains: { gear: { kind: 'coupled', joint: 'pinion.angle', source: 'wheel.angle', ratio: -ratio, offset: 0 } },
      },
    )
    expect(frequencies(machine)).toBeNear([Math.sqrt(k / (slow + ratio ** 2 * fast))], { relative: 1e-9 })
  })

  it('turned by a motor have the two poles of winding and rotor', () => {
    // L J s² + (R J + L b) s + (R b + k²) = 0, beside the angle's pole at 0
    const [inertia, R, L, k, b] = [0.02, 1.1, 0.004, 0.09, 0.003]
    const motor: Part = {
      kind: 'dcMotor',
      joint: 'rotor.angle',
      resistance: R,
      inductance: L,
      constant: k,
      gear: 1,
      drag: b,
      voltage: 24,
    }
    const { system } = expectDone(
      mechanismPoint(mechanismPart({ rotor: disc('ground', inertia) }, { drives: { motor } }), fullMechanism),
    )
    const found = expectDone(modes(system))
      .map(({ pole }) => pole.re)
      .sort((p, q) => p - q)
    const [a, half, c] = [L * inertia, (R * inertia + L * b) / 2, R * b + k * k]
    const root = Math.sqrt(half ** 2 - a * c)
    expect(found).toBeNear([(-half - root) / a, (-half + root) / a, 0], { absolute: 1e-8 })
  })
})
