import { describe, expect, it } from 'vitest'
import { freeProgram } from '../simulation'
import { lamplighter } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { everyNumber } from '../kinds'
import { fullMechanism, machineKinds, motion, rotorPlaces, stateList } from './index'
import type { Layers } from './index'

// Axes: x ahead, y to the left, z up. All of it is Newton's third law: what turns the air left is turned right.
describe('the signs of a lifter', () => {
  const machine = lamplighter().machines.lamplighter!
  const numbers = new Map(everyNumber(machineKinds, machine).map(({ path, value }) => [path, value]))
  const none: Layers = new Set()
  const states = stateList(machine, none).map(({ atRest }) => atRest)
  const places = rotorPlaces(numbers.get('rotors.count')!)
  /** Turning rates gained a second with these speeds, from level and at rest. */
  const turned = (speed: (i: number) => number) =>
    motion(
      machine,
      (path) => numbers.get(path)!,
      none,
      states,
      places.map((_, i) => speed(i)),
    ).rates.slice(10, 13) as number[]

  it('the first rotor stands half a step to the left of ahead, and they go round to the left', () => {
    expect(places.map(({ angle }) => angle)).toBeNear(
      places.map((_, i) => ((2 * i + 1) * Math.PI) / places.length),
      { absolute: 1e-15 },
    )
    expect(places.map(({ turns }) => turns)).toEqual(places.map((_, i) => (i % 2 === 0 ? 1 : -1)))
  })

  it('rotors that turn left push the body to the right, and the other way round', () => {
    expect(turned((i) => (places[i]!.turns === 1 ? 420 : 400))[2]).toBeLessThan(-0.01)
    expect(turned((i) => (places[i]!.turns === 1 ? 400 : 420))[2]).toBeGreaterThan(0.01)
    expect(turned(() => 400)[2]).toBeNear(0, { absolute: 1e-9 })
  })
  it('more lift on the left rolls it to the right, more lift ahead pitches its nose up', () => {
    const more = (side: (angle: number) => number) => (i: number) => 400 + 20 * side(places[i]!.angle)
    expect(turned(more(Math.sin))[0]).toBeGreaterThan(0.1)
    expect(turned(more(Math.cos))[1]).toBeLessThan(-0.1)
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
