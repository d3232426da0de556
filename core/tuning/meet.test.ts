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
  return loopModel(lawOf({ law: { kind: law, filterTime: 0.005 }, filters: {} }), plant, plant, 50, 0)
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

  it('keeps what a push beside it does to it, and its room for gain and delay', () => {
    const model = modelOf(2, 'proportionalIntegralDerivative')
    const hard = { deviation: 0.08, recovery: 2.5, gainMargin: 3, delayMargin: 0.06 }
    const met = meet([model], 0.125, hard, 1)
    if (met.kind !== 'met') throw new Error(met.what)
    expect(met.holds).toBe(true)
    const { gains } = met
    const push = { through: 'push', value: () => 1 } as const
    const { t, held } = predict(model, { gains, reference: () => [0, 0, 0], imbalance: 0, closed: true, until: 12, disturbance: push }) // prettier-ignore
    const most = Math.max(...held.map(Math.abs))
    expect(most).toBeLessThan(hard.deviation)
    held.forEach((value, k) => t[k]! > hard.recovery && expect(Math.abs(value)).toBeLessThan(0.05 * most + 1e-9))
    // loops at their edge swing for ever: with so much more gain, or so many more samples of delay, they do not die out yet
    const more = (factor: number) => ({ kp: factor * gains.kp, ki: factor * gains.ki, kd: factor * gains.kd })
    expect(analyse(model, more(2.95)).stable).toBe(true)
    expect(analyse({ ...model, delay: 2 }, gains).stable).toBe(true)
    const tooMuch = meet([modelOf(2)], 0.125, { deviation: 0.0005 }, 1)
    expect(tooMuch).toMatchObject({ kind: 'met', holds: false })
  })

  it('knows that a loop without an integral does not recover: residual force over gain, common practice, no source', () => {
    const met = meet([modelOf(2)], 0.125, { recovery: 5, phaseMargin: 0.8 }, 1)
    expect(met).toMatchObject({ kind: 'met', holds: false, wishes: [{ name: 'recovery', value: Infinity }, {}] })
  })

  it('says what it cannot do', () => {
    expect(meet([modelOf(2)], 0.125, {}, 1)).toMatchObject({ kind: 'outOfReach', what: /Nothing is asked/ })
    expect(meet([modelOf(2, 'proportional')], 0.125, wishes, 1)).toMatchObject({ kind: 'outOfReach', remedy: /law/ })
    expect(meet([modelOf(2, 'relay')], 0.125, wishes, 1)).toMatchObject({ kind: 'outOfReach' })
  })
})
