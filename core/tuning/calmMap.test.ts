import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { demo, lamplighterInVacuum } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { analyse, calmMap, designLoop, mapRange, modelOfLoop, predict, responseFigures, spaced, tune, unreached } from './index'

const { model } = expectDone(modelOfLoop(lamplighterInVacuum(), 'height'))
const corner = 0.125
const range = mapRange(model, corner)
const crossovers = spaced(range.crossovers, 12, 'log')
const margins = spaced(range.margins, 9, 'linear')
const map = calmMap(model, corner, crossovers, margins)

describe('the calm map of the height loop', () => {
  it('says of every place what its own design says', () => {
    let [compared, settled, alike] = [0, 0, 0]
    crossovers.forEach((crossover, i) =>
      margins.forEach((phaseMargin, j) => {
        const place = i * margins.length + j
        const tuned = tune(model, { crossover, phaseMargin, integralCorner: corner })
        if (tuned.kind === 'outOfReach') {
          expect(map.why[place]).not.toBe(unreached.reached)
          expect(map.figures.overshoot[place]).toBeNaN()
          return
        }
        const analysis = analyse(model, tuned.gains)
        if (!analysis.stable) {
          expect(map.why[place]).toBe(unreached.unstable)
          return
        }
        compared++
        expect(map.why[place]).toBe(unreached.reached)
        const step = predict(model, {
          gains: tuned.gains,
          reference: () => [1, 0, 0],
          imbalance: 0,
          closed: true,
          until: Math.max(24 / crossover, 3),
        })
        const figures = responseFigures(step.t, step.held, step.push, 0, 0, 1)
        expect(map.figures.overshoot[place]).toBeNear(100 * figures.overshoot, { absolute: 0.6 })
        expect(map.figures.sensitivityPeak[place]).toBeNear(analysis.margins.sensitivityPeak.factor, { relative: 0.05 })
        expect(map.figures.peakCommand[place]).toBeNear(figures.peakCommand, { relative: 0.01 })
        const settling = map.figures.settling[place]!
        if (figures.settling === undefined || !Number.isFinite(settling)) return
        settled++
        if (Math.abs(settling - figures.settling) < 0.1 * figures.settling) alike++
      }),
    )
    expect(compared).toBeGreaterThan(40)
    expect(alike).toBeGreaterThan(0.85 * settled) // a swing that just leaves 2 % moves the settling time by half a swing
  })

  it('reaches from slow designs to the edge of what lags and delay allow, and says why not beyond', () => {
    const fastest = map.why.slice(-margins.length)
    expect([...fastest].every((why) => why !== unreached.reached)).toBe(true)
    const slowest = map.why.slice(0, margins.length)
    expect([...slowest].filter((why) => why === unreached.reached).length).toBeGreaterThan(4)
    expect([...map.why]).toContain(unreached.tooMuchMargin)
  })

  it('needs more of the push the faster the loop', () => {
    // common practice, no source: a pure inertia n times faster takes n² the push
    const of = (i: number) => map.figures.peakCommand[i * margins.length + 4]!
    expect(of(2) / of(0)).toBeNear((crossovers[2]! / crossovers[0]!) ** 2, { relative: 0.1 })
  })
})

describe('the range of a map', () => {
  it('reaches beyond a swing of the machine to where its designs are', () => {
    const document = expectDone(checkDocument(demo('derrick'))).resolved
    for (const name of ['luff', 'hoist']) {
      const { model, values } = expectDone(designLoop(document, name))
      const { crossover } = values.tuning as unknown as { crossover: number }
      const [least, most] = mapRange(model, 0.125).crossovers
      expect(least).toBeLessThan(crossover)
      expect(most).toBeGreaterThan(crossover)
    }
  })
})
