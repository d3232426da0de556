import { describe, expect, it } from 'vitest'
import { checkDocument } from '../index'
import { linearEstimators, lowPassStep } from '../control'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { analyse, designLoop } from '../tuning'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { compile, findColumn, start } from './index'

const wheel = mechanismPart(
  { wheel: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.2], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 1], start: 0 })) },
  {
    drives: { motor: { kind: 'effortDrive', joint: 'wheel.angle', most: 1000 } },
    sensors: { encoder: { kind: 'encoder', joint: 'wheel.angle', rate: 500, noise: 0.001 } },
  },
)
const smooth = { kind: 'lowPassEstimator', machine: 'm', signal: 'wheel.angle', corner: 30, rate: 500 }
const documentOf = (more: object = {}, estimators: Readonly<Record<string, Readonly<Record<string, unknown>>>> = { smooth }) =>
  oneMachine(
    wheel as never,
    {
      hold: {
        ...{ holds: 'wheel.angle', pushes: 'drives.motor', reads: 'estimated', rate: 250, law: { kind: 'pdOnRate' } },
        ...{ tuning: { kind: 'typedGains', kp: 8, ki: 0, kd: 1.6 }, ...more },
      },
    },
    {
      cues: { up: { kind: 'stepCue', loop: 'hold', at: 0.5, by: 1 } },
      after: 5,
      realism: realismWith(['sampling', 'sensorErrors']),
    },
    estimators,
  )
const flown = (document: Document, trial = 'run') => {
  const { resolved } = expectDone(checkDocument(document))
  const record = start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 5 })
  return (name: string) => [...findColumn(record, name)!]
}

describe('a low-pass', () => {
  it('has come 63 % of the way after one over its corner, and follows a ramp that much late: facts of the trade, no source', () => {
    let [x, late] = [0, 0]
    for (let k = 1; k <= 100; k++) x = lowPassStep(x, { read: 1, corner: 10, dt: 0.001, goesRound: false }).estimate as number
    expect(x).toBeNear(1 - Math.exp(-1), { relative: 1e-12 })
    let rate = 0
    for (let k = 1; k <= 3000; k++) {
      const next = lowPassStep(late, { read: 2 * k * 0.001, corner: 10, dt: 0.001, goesRound: false })
      ;[late, rate] = [next.estimate as number, next.rate as number]
    }
    expect(6 - late).toBeNear(2 / 10, { absolute: 2e-3 })
    expect(rate).toBeNear(2, { relative: 1e-6 })
  })

  it('follows an angle that goes round the short way', () => {
    const { estimate } = lowPassStep(3, { read: -3, corner: 1e4, dt: 1, goesRound: true })
    expect(estimate).toBeNear(-3, { absolute: 1e-9 })
    const { rate } = lowPassStep(3, { read: -3, corner: 0.1, dt: 1, goesRound: true })
    expect(rate as number).toBeGreaterThan(0)
  })

  it('leaves of white noise the root of share over two less share', () => {
    const column = flown(documentOf({ closed: false }))
    const [read, smoothed] = ['m.wheel.angle.measured', 'm.wheel.angle.estimate'].map((name) => column(name).slice(500)) as [
      number[],
      number[],
    ]
    const rms = (values: number[]) => Math.sqrt(values.reduce((sum, one) => sum + one * one, 0) / values.length)
    const share = 1 - Math.exp(-30 / 500)
    expect(rms(smoothed) / rms(read)).toBeNear(Math.sqrt(share / (2 - share)), { relative: 0.15 })
  })

  it('is not read where the layer of estimators is off: laws then read true values', () => {
    const off = replaceAt<Document>(documentOf(), 'trials.run.realism.estimator', false)
    const truth = documentOf({ reads: 'true' })
    const [without, exact, on] = [off, truth, documentOf()].map((document) => flown(document)('m.wheel.angle'))
    expect(without).toEqual(exact)
    expect(on).not.toEqual(exact)
  })

  it('lets a loop hold by what it estimates, rate and all', () => {
    const column = flown(documentOf())
    expect(column('m.wheel.angle').at(-1)!).toBeNear(1, { absolute: 5e-3 })
    const peak = (name: string) => Math.max(...column(name))
    expect(peak('m.wheel.rate.estimate')).toBeNear(peak('m.wheel.rate'), { relative: 0.35 })
  })

  it('takes phase from the loop, as much as its lag says', () => {
    const { resolved } = expectDone(checkDocument(documentOf()))
    const { model, gains } = expectDone(designLoop(resolved, 'hold'))
    const found = analyse(model, gains)
    const [filter] = linearEstimators(resolved, 'm')
    expect(filter!.estimated).toEqual(['wheel.angle', 'wheel.rate'])
    const w = found.crossover!
    // both signals go through one lag: kp + kd s of the plant turned by its phase, less what the hold of samples adds
    const lag = Math.atan(w / 30)
    const plain = Math.PI - 2 * (Math.PI / 2) + Math.atan((gains.kd * w) / gains.kp) - (w * model.dt) / 2
    expect(found.phaseMargin!).toBeNear(plain - lag, { absolute: 0.03 })
  })

  it('is told to upset a loop that it does, at the corner where a run begins to grow', () => {
    const at = (corner: number) => {
      const { resolved } = expectDone(checkDocument(documentOf({}, { smooth: { ...smooth, corner } })))
      const { model, gains } = expectDone(designLoop(resolved, 'hold'))
      const analysis = analyse(model, gains)
      const values = flown(resolved)('m.wheel.angle').slice(-1000)
      const spread = (part: number[]) => Math.max(...part) - Math.min(...part)
      return {
        stable: analysis.stable,
        grows: spread(values.slice(500)) > 1.05 * spread(values.slice(0, 500)),
      }
    }
    // plant and law make kp + kd s over inertia: the lag of the estimate is what can upset it
    expect(at(30)).toEqual({ stable: true, grows: false })
    expect(at(1.5)).toEqual({ stable: false, grows: true })
  })

  it('smooths what a lifter measures, before a loop that reads it', () => {
    const turning = {
      kind: 'lowPassEstimator',
      machine: 'lamplighter',
      signal: 'readings.attitude.heading',
      corner: 40,
      rate: 200,
    }
    const document = replaceAt(replaceAt(lamplighter(), 'estimators.turning', turning), 'loops.heading.reads', 'estimated')
    const column = flown(document, 'galleryRise')
    const spread = (name: string) => {
      const values = column(name).slice(400)
      return Math.max(...values) - Math.min(...values)
    }
    expect(spread('lamplighter.readings.attitude.heading.estimate')).toBeLessThan(0.01)
    expect(Math.abs(column('lamplighter.readings.attitude.heading').at(-1)!)).toBeLessThan(0.01)
  })

  it('explains a signal that the machine has not, and a loop that nothing estimates for', () => {
    const strange = checkDocument(documentOf({}, { smooth: { ...smooth, signal: 'wheel.angel' } }))
    const problems = strange.kind === 'refused' ? strange.problems : []
    expect(problems.find(({ where }) => where === 'estimators.smooth.signal')).toMatchObject({ remedy: /wheel\.angle/ })
    const none = checkDocument(documentOf({}, {}))
    expect(none).toMatchObject({ kind: 'refused', problems: [{ where: 'loops.hold.reads', remedy: /low-pass/ }] })
  })
})
