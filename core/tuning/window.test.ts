import { expect, it } from 'vitest'
import type { LoopAnalysis } from './analysis'
import type { LoopModel } from './loopModel'
import { answerWindow } from './window'

it('an answer is looked at for its slow poles, but not for those that nobody waits for', () => {
  const window = (poles: readonly number[], crossover: number, stable = true) =>
    answerWindow(
      { dt: null } as unknown as LoopModel,
      { stable, closedPoles: poles.map((re) => ({ re, im: 0 })) } as unknown as LoopAnalysis,
      crossover,
      10,
    )
  for (const crossover of [0.1, 1, 50]) {
    // ten times its crossover, five time constants of a pole ten times slower, and no more for one a thousand times slower
    expect(window([-crossover], crossover)).toBeCloseTo(10 / crossover, 9)
    expect(window([-crossover, -0.1 * crossover], crossover)).toBeCloseTo(50 / crossover, 9)
    expect(window([-0.1 * crossover, -0.001 * crossover], crossover)).toBeCloseTo(50 / crossover, 9)
    expect(window([0.3 * crossover, -0.1 * crossover], crossover, false)).toBeCloseTo(10 / crossover, 9)
  }
})
