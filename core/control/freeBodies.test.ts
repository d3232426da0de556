import { describe, expect, it } from 'vitest'
import { mechanismForm, mechanismMotion, numbersOf } from '../machine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { numbersFrom } from '../tests/randomGraph'
import { byAngles } from './freeBodies'

/** A body that is hung turned and away from where things count, with an arm on it. */
const machine = {
  ...mechanismPart({
    hull: bodyPart(2, [0.05, 0, 0.1], [0.2, 0.3, 0.4], {
      ...jointPart('free', 'ground', [1, -2, 3]),
      turned: [0.3, -0.2, 0.5],
    } as never),
    arm: bodyPart(0.5, [0.2, 0, 0], [0.01, 0.02, 0.02], {
      ...jointPart('turning', 'hull', [0.1, 0, 0]),
      axis: [0, 0, 1],
    } as never),
  }),
  readings: {
    place: { kind: 'placeReading', body: 'hull', at: [0.1, 0.2, 0.3], from: 'ground', fromAt: [4, 5, 6] },
    attitude: { kind: 'attitudeReading', body: 'hull', from: 'ground' },
  },
}
const read = numbersOf(machine)
const form = mechanismForm(machine, read)
const { names, toForm, fromForm, rates } = byAngles(machine, read, form)

describe('a free body by its angles', () => {
  const next = numbersFrom(3)
  const somewhere = () => names.map(() => 2 * (next() - 0.5))

  it('is named by its readings, in the order of its states', () => {
    expect(names.slice(0, 7)).toEqual([
      ...['roll', 'pitch', 'heading'].map((name) => `readings.attitude.${name}`),
      ...['east', 'north', 'height'].map((name) => `readings.place.${name}`),
      'arm.angle',
    ])
    expect(names).toHaveLength(14)
  })

  it('stands where its readings say, and moves as they do', () => {
    for (let k = 0; k < 10; k++) {
      const x = somewhere()
      const states = toForm(x)
      const { signals } = mechanismMotion(machine, read, new Set(), form, states, [], [])
      names.forEach((name, i) => {
        const shown = signals.find((signal) => signal.name === name)?.value
        if (shown !== undefined) expect([name, shown as number]).toEqual([name, expect.closeTo(x[i]!, 11)])
      })
      expect(fromForm(states) as number[]).toBeNear(x, { absolute: 1e-12 })
    }
  })

  it('changes as its readings do a moment later and a moment before', () => {
    const by = 1e-6
    for (let k = 0; k < 10; k++) {
      const x = somewhere()
      const states = toForm(x) as number[]
      const { rates: own } = mechanismMotion(machine, read, new Set(), form, states, [], [])
      const at = (time: number) => fromForm(states.map((value, i) => value + time * (own[i] as number))) as number[]
      const [later, before] = [at(by), at(-by)]
      expect(rates(x, own) as number[]).toBeNear(
        later.map((value, i) => (value - before[i]!) / (2 * by)),
        { relative: 1e-7, absolute: 1e-7 },
      )
    }
  })
})
