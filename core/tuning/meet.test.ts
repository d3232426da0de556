import { describe, expect, it } from 'vitest'
import { lawOf } from '../control'
import { fromPolynomials } from '../linear'
import { analyse } from './analysis'
import { responseFigures } from './figures'
import { loopModel } from './loopModel'
import type { LoopModel } from './loopModel'
import { meet } from './meet'
import { predict } from './predict'

const modelOf = (gain: number, law = 'proportionalDerivative', den: readonly number[] = [1, 0.5, 0]): LoopModel => {
  const plant = fromPolynomials([gain], den, null)
  return loopModel(lawOf({ kind: 'loop', law: { kind: law, filterTime: 0.005 }, filters: {} }), plant, plant, 50, 0)
}
const radians = Math.PI / 180

describe('meeting requirements', () => {
  const wishes = { overshoot: 0.12, settling: 1.6, sensitivityPeak: 1.5, phaseMargin: 50 * radians }

  it('finds gains that keep them all, judged anew from the loop itself', () => {
    const model = modelOf(2)
    const met = meet([model], 0.125, wishes, 1)
    if (met.kind !== 'met') throw new Error(met.what)
    expect(met.holds).toBe(true)
    const analysis = analyse(model, met.gains)
    const step = predict(model, { gains: met.gains, reference: () => [1, 0, 0], imbalance: 0, closed: true, until: 8 })
    const figures = responseFigures(step.t, step.held, step.push, 0, 0, 1)
    expect(figures.overshoot).toBeLessThan(wishes.overshoot)
    expect(figures.settling!).toBeLessThan(wishes.settling)
    expect(analysis.margins.sensitivityPeak.factor).toBeLessThan(wishes.sensitivityPeak)
    expect(analysis.phaseMargin!).toBeGreaterThan(wishes.phaseMargin)
  })

  it('names the one that binds, and says when one cannot be kept', () => {
    const gentle = meet([modelOf(2)], 0.125, { ...wishes, peakCommand: 0.4 }, 1)
    if (gentle.kind !== 'met') throw new Error(gentle.what)
    expect(gentle.holds).toBe(false)
    expect(gentle.wishes[0]!.share).toBeGreaterThan(1)
    expect(gentle.wishes.slice(0, 2).map(({ name }) => name)).toContain('peakCommand')
  })

  it('holds over all machines that it is given, at a price', () => {
    const machines = [2, 3.5].map((gain) => modelOf(gain))
    const wide = { overshoot: 0.2, settling: 4, phaseMargin: 45 * radians }
    const [one, all] = [meet(machines.slice(0, 1), 0.125, wide, 1), meet(machines, 0.125, wide, 1)]
    if (one.kind !== 'met' || all.kind !== 'met') throw new Error('both are in reach')
    expect(all.holds).toBe(true)
    expect(all.wishes[0]!.share).toBeGreaterThan(one.wishes[0]!.share)
    for (const model of machines) expect(analyse(model, all.gains).phaseMargin!).toBeGreaterThan(wide.phaseMargin)
  })

  it('says what it cannot do', () => {
    expect(meet([modelOf(2)], 0.125, {}, 1)).toMatchObject({ kind: 'outOfReach', what: /Nothing is asked/ })
    expect(meet([modelOf(2, 'proportional')], 0.125, wishes, 1)).toMatchObject({ kind: 'outOfReach', remedy: /law/ })
    expect(meet([modelOf(2, 'relay')], 0.125, wishes, 1)).toMatchObject({ kind: 'outOfReach' })
  })
})
