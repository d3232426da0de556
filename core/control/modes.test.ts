import { describe, expect, it } from 'vitest'
import { names, sampledWithHold } from '../linear'
import type { StateSpace } from '../linear'
import { expectDone } from '../tests/expectDone'
import { modalMeasures } from './modes'

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
