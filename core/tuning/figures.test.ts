import { describe, expect, it } from 'vitest'
import { numbersFrom } from '../tests/randomGraph'
import { followingFigures, responseFigures } from './figures'

/** Figures of a response to a step of 1 at 0, over so many seconds. */
function figures(y: (t: number) => number, until: number) {
  const t = Float64Array.from({ length: 2001 }, (_, i) => (i * until) / 2000)
  return responseFigures(t, t.map(y), new Float64Array(t.length), 0, 0, 1)
}

describe('following', () => {
  it('of a ramp behind a lag is late by the lag, and off by lag times rate', () => {
    // common practice, no source: after a while 1/(s + 1) follows a ramp of 2 by 2 (t - 1)
    const t = Float64Array.from({ length: 4001 }, (_, i) => i * 0.01)
    const { lag, worst, rms } = followingFigures(
      t,
      t.map((at) => 2 * (at - 1 + Math.exp(-at))),
      (at) => 2 * at,
    )
    expect(lag).toBeNear(1, { relative: 0.02 })
    expect(worst).toBeNear(2, { relative: 1e-9 })
    expect(rms).toBeGreaterThan(1.9)
    expect(rms).toBeLessThan(2)
  })

  it('tells a lag between the shifts that are tried', () => {
    // they are 0.1 s apart
    const t = Float64Array.from({ length: 4001 }, (_, i) => i * 0.01)
    for (const late of [0.42, 0.47]) {
      const held = t.map((at) => Math.sin(Math.max(0, at - late)))
      expect(followingFigures(t, held, Math.sin).lag).toBeNear(late, { absolute: 3e-3 })
    }
  })

  it('sees the largest error, however short it is', () => {
    const t = Float64Array.from({ length: 4001 }, (_, i) => i * 0.01)
    const held = t.map((_, i) => (i === 1777 ? 0.3 : 0))
    expect(followingFigures(t, held, () => 0).worst).toBe(0.3)
  })
})

describe('settling', () => {
  const lag = (t: number) => 1 - Math.exp(-t)

  it('of a lag is the time of the closed form, however long the record goes on', () => {
    // 1 - e^-t stays within 2 % from ln 50 on
    for (const until of [4.4, 5, 8, 20]) expect(figures(lag, until).settling).toBeNear(Math.log(50), { relative: 0.01 })
  })

  it('is not told of a record that ends before it', () => {
    expect(figures(lag, 2.5).settling).toBeUndefined()
    expect(figures(lag, 2.5).steadyError).toBeNear(0, { absolute: 1e-3 }) // where its creeping leads
  })

  it('waits for what creeps behind a quick rise', () => {
    // nine tenths at once, the last tenth within 10 s: ln 5 time constants until 2 % are left
    const creeping = (t: number) => 0.9 * (1 - Math.exp(-5 * t)) + 0.1 * (1 - Math.exp(-t / 10))
    expect(figures(creeping, 8).settling).toBeUndefined()
    expect(figures(creeping, 30).settling).toBeNear(10 * Math.log(5), { relative: 0.01 })
  })

  it('is not told of what swings on without end', () => {
    for (const until of [10, 10.3, 11, 17.7]) {
      const found = figures((t) => 1 - Math.exp(-t) + 0.05 * Math.sin(3 * t), until)
      expect(found.settling).toBeUndefined()
      expect(found.steadyError).toBeUndefined()
      expect(found.swings).toBeNear(0.05, { relative: 0.2 })
    }
  })

  it('of what runs on, or swings slowly and is still under way, has no end', () => {
    const end = (y: (t: number) => number, until = 10) => figures(y, until).steadyError
    // steadily, ever faster, and back again after a while
    for (const runsOn of [(t: number) => t, (t: number) => t * t, (t: number) => (t < 8 ? t : t < 9 ? 8 : 3)])
      expect(end(runsOn)).toBeUndefined()
    // beyond its reference and on its way back
    const slow = (t: number) => 1 - Math.exp(-0.25 * t) * (Math.cos(0.35 * t) + 0.7 * Math.sin(0.35 * t))
    expect(end(slow, 14)).toBeUndefined()
    expect(end(slow, 60)).toBeNear(0, { absolute: 1e-4 })
    // along one slow pole it is known long before it is there
    expect(end((t) => 1 - Math.exp(-t / 8), 20)).toBeNear(0, { absolute: 1e-3 })
  })

  it('is that of the swing that dies away', () => {
    // 1 - e^-zt cos t with z = 0.1 leaves its last 2 % at a peak near ln 50 / 0.1
    const { settling } = figures((t) => 1 - Math.exp(-0.1 * t) * Math.cos(t), 80)
    expect(settling).toBeGreaterThan(10 * Math.log(50) - Math.PI)
    expect(settling).toBeLessThan(10 * Math.log(50))
  })

  it('hardly hangs on noise of the sensor', () => {
    const next = numbersFrom(7)
    const { settling, steadyError } = figures((t) => lag(t) + 0.004 * (next() - 0.5), 10)
    expect(settling).toBeNear(Math.log(50), { relative: 0.1 })
    expect(steadyError).toBeNear(0, { absolute: 1e-3 })
  })
})
