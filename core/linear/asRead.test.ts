import { describe, expect, it } from 'vitest'
import { complex, overComplex, plusComplex } from '../algebra'
import {
  frequencyResponse,
  fromPolynomials,
  heldLonger,
  lookedAtBefore,
  resampled,
  sampledBilinear,
  sampledWithHold,
} from './index'

const lead = fromPolynomials([3, 2, 5], [1, 0.8, 4], null)

describe('a system looked at before its push comes', () => {
  it('shows what answers at once a sample later', () => {
    const sampled = sampledWithHold(lead, 0.1)
    const before = lookedAtBefore(sampled)
    expect(before.d).toEqual([[0]])
    for (const w of [0.3, 2, 11]) {
      const without = frequencyResponse({ ...sampled, d: [[0]] }, w)![0]![0]!
      const z = complex(Math.cos(w * 0.1), Math.sin(w * 0.1))
      const wanted = plusComplex(without, overComplex(complex(sampled.d[0]![0]!), z))
      const found = frequencyResponse(before, w)![0]![0]!
      expect([found.re, found.im]).toBeNear([wanted.re, wanted.im], { relative: 1e-12 })
    }
  })
  it('is what it was where nothing does', () => {
    const strict = sampledWithHold(fromPolynomials([1], [1, 1], null), 0.1)
    expect(lookedAtBefore(strict)).toBe(strict)
  })
})

describe('a sampled system at another rate', () => {
  it('is the bilinear rule there and back: exact at its own rate, and at zero frequency', () => {
    const sampled = sampledBilinear(lead, 0.1)!
    const same = resampled(sampled, 0.1)!
    expect(same.a).toBeNear(sampled.a, { absolute: 1e-12 })
    expect(same.d).toBeNear(sampled.d, { absolute: 1e-12 })
    const other = resampled(sampled, 0.02)!
    const direct = sampledBilinear(lead, 0.02)!
    for (const w of [0, 0.4, 2]) {
      const [a, b] = [other, direct].map((one) => frequencyResponse(one, w)![0]![0]!)
      expect([a!.re, a!.im]).toBeNear([b!.re, b!.im], { relative: 1e-9 })
    }
  })
  it('is refused with a pole at -1', () => {
    expect(resampled({ ...lead, a: [[-1]], b: [[1]], c: [[1]], d: [[0]], dt: 0.1 }, 0.05)).toBeUndefined()
  })
})

describe('a value held longer than it is looked at', () => {
  it('is the mean of what was told over the time that it is held', () => {
    const [dt, tick] = [0.2, 0.02]
    const system = heldLonger(dt, tick)
    for (const w of [0.1, 1, 4, 8]) {
      // (1 - e^-jwT) / (1 - e^-jwt) t / T
      const gone = (span: number) => complex(1 - Math.cos(w * span), Math.sin(w * span))
      const exact = overComplex(gone(dt), gone(tick))
      const found = frequencyResponse(system, w)![0]![0]!
      expect([found.re, found.im]).toBeNear([(exact.re * tick) / dt, (exact.im * tick) / dt], { absolute: 0.01 })
    }
  })
})
