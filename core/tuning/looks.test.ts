import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Complex } from '../algebra'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import { linearPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { analyse, designLoop, loopPoints, parameterLocus, poleMap, rootLocus } from './index'

// K/(s(s+1)(s+2)), held proportionally at a rate far above its poles; one sample is held, so it is late by half of one
const { inputs, expected } = reference<
  { num: number[]; den: number[] },
  { imag_crossing: { w: number; K: number }; zeta_half_point: { re: number; im: number; K: number } }
>('lti-rootlocus-ogata-1')
const [, second, first, none] = inputs.den as [number, number, number, number]
const gain = 1.2
const rate = 2000
const machine = linearPart([[0, 1, 0], [0, 0, 1], [-none, -first, -second]], [[0], [0], [1]]) // prettier-ignore
const loop = { holds: 'x1', pushes: 'u1', rate, tuning: { kind: 'typedGains', kp: gain, ki: 0, kd: 0 } }
const document = expectDone(checkDocument(oneMachine(machine, { it: loop }))).resolved
const { model, gains } = expectDone(designLoop(document, 'it'))
const analysis = analyse(model, gains)
const late = 1 / rate

/** Poles by their distance from a place, nearest first. */
const nearest = (all: readonly Complex[], re: number, im: number) =>
  [...all].map((one) => Math.hypot(one.re - re, one.im - im)).sort((a, b) => a - b)[0]!

describe('the looks of a loop', () => {
  it('have the gain of the loop, and what follows from it', () => {
    for (const { w, loop, sensitivity, complementary, follows } of loopPoints(model, gains, analysis)) {
      if (w > 100) continue
      // the plant by itself, in plain arithmetic: K/(jw (jw + 1)(jw + 2)) = K / (-3 w² + j (2 w - w³))
      const [re, im] = [-second * w * w, first * w - w ** 3]
      const size = re * re + im * im
      const [x, y] = [(gain * re) / size, (-gain * im) / size]
      expect(Math.hypot(loop.re - x, loop.im - y)).toBeLessThan(2 * late * w * Math.hypot(x, y))
      const far = Math.hypot(1 + x, y)
      expect(sensitivity).toBeNear(1 / far, { relative: 2e-3 + late * w })
      expect(complementary).toBeNear(Math.hypot(x, y) / far, { relative: 2e-3 + 2 * late * w })
      // a proportional law acts on the error alone
      expect(follows).toBeNear(complementary, { relative: 1e-9 })
    }
  })

  it('have the poles of a published root locus', () => {
    // K. Ogata, Modern Control Engineering, 5th ed., example 6-1 (from memory, recomputed in the file)
    const { imag_crossing: crossing, zeta_half_point: half } = expected
    const ratios = [crossing.K, half.K].map((k) => k / gain)
    for (const name of ['kp', undefined]) {
      const { poles, values } = rootLocus(model, gains, name, ratios)
      expect(values).toEqual(ratios)
      expect(nearest(poles[0]!, 0, crossing.w)).toBeLessThan(1e-3)
      expect(nearest(poles[1]!, half.re, half.im)).toBeLessThan(1e-3)
      expect(nearest(poles[1]!, half.re, -half.im)).toBeLessThan(1e-3)
    }
  })

  it('have poles of plant and loop, and of the loop when a number of the machine changes', () => {
    const { plantPoles, plantZeros, closedPoles } = poleMap(model, analysis)
    for (const pole of [0, -1, -2]) expect(nearest(plantPoles, pole, 0)).toBeLessThan(1e-9)
    expect(plantPoles).toHaveLength(3)
    expect(plantZeros).toEqual([])
    const here = rootLocus(model, gains, 'kp', [1]).poles[0]!
    for (const { re, im } of closedPoles) expect(nearest(here, re, im)).toBeLessThan(1e-6)
    // twice the gain of the plant is twice the gain of the law
    const moved = parameterLocus(document, 'it', 'b.2.0', 1, gains, [1, 2])
    expect(moved.values).toEqual([1, 2])
    const twice = rootLocus(model, gains, 'kp', [2]).poles[0]!
    for (const { re, im } of closedPoles) expect(nearest(moved.poles[0]!, re, im)).toBeLessThan(1e-6)
    for (const { re, im } of twice) expect(nearest(moved.poles[1]!, re, im)).toBeLessThan(1e-6)
  })
})
