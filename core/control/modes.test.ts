import { describe, expect, it } from 'vitest'
import { identity, multiply, solve } from '../algebra'
import { names, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import { expectDone } from '../tests/expectDone'
import { modalMeasures, modes } from './modes'

const system = (a: number[][], b: number[][], c: number[][]): StateSpace => ({
  ...{ a, b, c, d: c.map(() => b[0]!.map(() => 0)), dt: null },
  ...names(a.length, b[0]!.length, c.length),
})

describe('how modes are moved and shown', () => {
  it('is a cosine: an input along one mode alone, an output halfway between two', () => {
    const found = expectDone(
      modalMeasures(
        system(
          [
            [-1, 0],
            [0, -3],
          ],
          [
            [1, 0],
            [0, 2],
          ],
          [[1, 1]],
        ),
      ),
    )
    expect(found.map(({ pole }) => pole.re)).toBeNear([-1, -3], { relative: 1e-9 })
    expect(found[0]!.reached).toBeNear([1, 0], { absolute: 1e-6 })
    expect(found[1]!.reached).toBeNear([0, 1], { absolute: 1e-6 })
    for (const { shown } of found) expect(shown).toBeNear([Math.SQRT1_2], { absolute: 1e-6 })
  })

  it('is nothing for a mode that a push does not reach, and stays so when sampled', () => {
    // two equal masses on springs, pushed alike: the mode in which they move against each other is left alone
    const pair = system(
      [
        [0, 0, 1, 0],
        [0, 0, 0, 1],
        [-3, 1, -0.1, 0],
        [1, -3, 0, -0.1],
      ],
      [[0], [0], [1], [1]],
      [[1, 0, 0, 0]],
    )
    for (const one of [pair, sampledWithHold(pair, 0.02)]) {
      const [slow, quick] = expectDone(modalMeasures(one))
      expect([slow!.pole.im, quick!.pole.im]).toBeNear([Math.sqrt(2), 2], { relative: 2e-3 })
      expect(slow!.reached[0]!).toBeGreaterThan(0.5)
      expect(quick!.reached[0]!).toBeLessThan(1e-6)
      expect(quick!.shown[0]!).toBeGreaterThan(0.1)
    }
  })
})

describe('who owns a mode', () => {
  const named = (a: number[][], states: string[]): StateSpace => ({
    ...system(
      a,
      states.map(() => [0]),
      [states.map(() => 0)],
    ),
    states,
  })
  const owners = (of: StateSpace) => expectDone(modes(of)).map(({ owner }) => owner)

  it('of a quarter vehicle are the body for the slow swing and the wheel for the hop, whatever units they have', () => {
    // 400 kg on 20 kN/m and 1.5 kN s/m over 40 kg on 200 kN/m: handbook figures, 1.1 Hz and 11.8 Hz undamped
    const [body, wheel, spring, damper, tyre] = [400, 40, 20e3, 1500, 200e3]
    const quarter = (unit: number) =>
      named(
        [
          [0, 0, 1, 0],
          [0, 0, 0, 1],
          [-spring / body, (spring / body) * unit, -damper / body, (damper / body) * unit],
          [spring / wheel / unit, -(spring + tyre) / wheel, damper / wheel / unit, -damper / wheel],
        ],
        ['body.travel', 'wheel.travel', 'body.rate', 'wheel.rate'],
      )
    for (const unit of [1, 1e-3, 1e3]) expect(owners(quarter(unit))).toEqual(['body.travel', 'wheel.travel'])
  })
  it('of a motor are its speed for the slow lag and its current for the fast one', () => {
    // R/L = 2000 rad/s, a current a thousand times smaller in its unit than the speed
    const motor = (unit: number) =>
      named(
        [
          [-2000, -20 / unit],
          [500 * unit, -1],
        ],
        ['current', 'shaft.rate'],
      )
    for (const unit of [1, 1e-3, 1e3]) expect(owners(motor(unit))).toEqual(['shaft.rate', 'current'])
  })
  it('of a body that glides are its speed, and its place for the drift', () => {
    const glide = named(
      [
        [0, 1],
        [0, -0.2],
      ],
      ['cart.travel', 'cart.rate'],
    )
    expect(owners(glide)).toEqual(['cart.travel', 'cart.rate'])
  })
})

describe('a swing that nothing damps', () => {
  it.each([0.3, 0.57, 1.9, 7])('has no damping, not what rounding left, at %d rad/s', (w) => {
    // two such swings, seen in coordinates that mix them
    const swings = [
      [0, 1, 0, 0],
      [-w * w, 0, 0, 0],
      [0, 0, 0, 1],
      [0, 0, -3.1 * w * w, 0],
    ]
    const mix = [
      [1, 0.3, -0.2, 0.7],
      [0, 1, 0.4, -0.6],
      [0, 0, 1, 0.9],
      [0, 0, 0, 1],
    ]
    const a = multiply(multiply(mix, swings), solve(mix, identity(4))!)
    const found = expectDone(modes(system(a, [[0], [1], [0], [0]], [[1, 0, 0, 0]])))
    expect(found.map(({ damping }) => damping)).toEqual([0, 0])
    expect(found[0]!.frequency).toBeNear(w, { relative: 1e-9 })
    // a real one stays, however small
    const damped = a.map((row, i) => row.map((value, j) => (i === j ? value - 1e-9 * w : value)))
    const slow = expectDone(modes(system(damped, [[0], [1], [0], [0]], [[1, 0, 0, 0]])))
    expect(slow[0]!.damping).toBeNear(1e-9, { relative: 1e-3 })
  })
})
