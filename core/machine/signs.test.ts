import { describe, expect, it } from 'vitest'
import { freeProgram } from '../simulation'
import { farFromGround, lamplighter } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { fullMechanism } from './index'

// Axes: x ahead, y to the left, z up. All of it is Newton's third law: what turns the air left is turned right.
describe('the signs of a lifter', () => {
  const machine = farFromGround(lamplighter()).machines.lamplighter!
  const rotors = Object.values(
    machine.drives as unknown as Record<string, { readonly at: readonly number[]; readonly turns: string }>,
  )
  const program = freeProgram(machine, new Set(), [])
  const rates = ['hull.wx', 'hull.wy', 'hull.wz']
  /** Turning rates gained in a hundredth of a second with these speeds, from level and at rest. */
  const turned = (speed: (rotor: (typeof rotors)[number]) => number) => {
    const { columns } = program.run({ inputs: rotors.map(speed), until: 0.01, step: 0.01, every: 1 })
    return rates.map((name) => 100 * columns.find((column) => column.name === name)!.values.at(-1)!)
  }

  it('the first rotor stands half a step to the left of ahead, and they go round to the left', () => {
    const angles = rotors.map(({ at }) => (Math.atan2(at[1]!, at[0]!) + 2 * Math.PI) % (2 * Math.PI))
    expect(angles).toBeNear(
      rotors.map((_, i) => ((2 * i + 1) * Math.PI) / rotors.length),
      { absolute: 1e-12 },
    )
    expect(rotors.map(({ turns }) => turns)).toEqual(rotors.map((_, i) => (i % 2 === 0 ? 'left' : 'right')))
  })

  it('rotors that turn left push the body to the right, and the other way round', () => {
    expect(turned(({ turns }) => (turns === 'left' ? 420 : 400))[2]).toBeLessThan(-0.01)
    expect(turned(({ turns }) => (turns === 'left' ? 400 : 420))[2]).toBeGreaterThan(0.01)
    expect(turned(() => 400)[2]).toBeNear(0, { absolute: 1e-9 })
  })
  it('more lift on the left rolls it to the right, more lift ahead pitches its nose up', () => {
    expect(turned(({ at }) => 400 + 50 * at[1]!)[0]).toBeGreaterThan(0.1)
    expect(turned(({ at }) => 400 + 50 * at[0]!)[1]).toBeLessThan(-0.1)
  })
})

describe('the signs of a rotor on a mechanism', () => {
  /** A mast free to turn about the vertical, with one rotor on top. */
  const mast = (turns: 'left' | 'right') =>
    mechanismPart(
      { mast: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, 0, 1], start: 0 })) },
      {
        drives: {
          fan: {
            ...{ kind: 'rotor', body: 'mast', at: [0, 0, 0.1], axis: [0, 0, 1], turns, radius: 0.3, thrust: 1e-5, torque: 1e-6 },
            ...{ solidity: 0.1, liftSlope: 5.7, lag: 0.05, most: 900 },
          },
        },
      },
    )
  const turnedBy = (turns: 'left' | 'right') => {
    const { columns } = freeProgram(mast(turns), fullMechanism, []).run({ inputs: [300], until: 1, step: 0.01, every: 1 })
    return columns.find(({ name }) => name === 'mast.angle')!.values.at(-1)!
  }

  it('one that turns left sends its mast to the right, and the other way round', () => {
    expect(turnedBy('left')).toBeLessThan(-0.01)
    expect(turnedBy('right')).toBeGreaterThan(0.01)
  })
})
