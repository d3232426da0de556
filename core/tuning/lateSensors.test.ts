import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { compile, findColumn, predictTrial, start } from '../simulation'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { analyse, designLoop, togetherFigures } from './index'

const wheel = (sensor: object) =>
  mechanismPart(
    { wheel: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.2], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 1], start: 0 })) },
    {
      drives: { motor: { kind: 'effortDrive', joint: 'wheel.angle', most: 1000 } },
      sensors: {
        encoder: { kind: 'encoder', joint: 'wheel.angle', ...sensor },
        tacho: { kind: 'tachometer', joint: 'wheel.angle', ...sensor },
      },
    },
  )
/** A wheel held by its encoder and tachometer, both late by so much; `delay`: samples that the loop computes. */
const documentOf = (sensor: { readonly rate: number; readonly delay?: number }, more: object = {}, estimators = {}): Document =>
  expectDone(
    checkDocument(
      oneMachine(
        wheel(sensor) as never,
        {
          hold: {
            ...{
              holds: 'wheel.angle',
              pushes: 'drives.motor',
              reads: 'measured',
              rate: 100,
              delay: 0,
              law: { kind: 'pdOnRate' },
            },
            ...{ tuning: { kind: 'typedGains', kp: 8, ki: 0, kd: 1.6 }, ...more },
          },
        },
        {
          cues: { up: { kind: 'stepCue', loop: 'hold', at: 0.1, by: 1 } },
          after: 3,
          realism: realismWith(['sampling', 'sensorErrors']),
        },
        estimators,
      ),
    ),
  ).resolved
const handOf = (document: Document) => expectDone(togetherFigures(document, 'm', 'commands')).channels[0]!.phaseMargin!
const alone = (document: Document) => {
  const { model, gains } = expectDone(designLoop(document, 'hold'))
  return { ...analyse(model, gains), model, gains }
}
const flown = (document: Document) => {
  const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 5 })
  return [...findColumn(record, 'm.wheel.angle')!]
}
const predicted = (document: Document) => [...predictTrial(document, 'run', 'hold')!.held]

describe('a sensor that tells late', () => {
  it('takes as much phase as a computation that is late by as much', () => {
    const late = documentOf({ rate: 100, delay: 0.03 })
    const slow = documentOf({ rate: 100 }, { delay: 3 })
    expect(handOf(late)).toBeNear(handOf(slow), { relative: 1e-9 })
    expect(handOf(documentOf({ rate: 100 })) - handOf(late)).toBeGreaterThan(0.1)
    expect(alone(late).phaseMargin).toBeNear(handOf(late), { relative: 1e-6 })
    expect(alone(slow).phaseMargin).toBeNear(handOf(late), { relative: 1e-6 })
  })

  it('that samples seldom is late by half of what it waits longer than the loop: common practice, no source', () => {
    const slow = { tuning: { kind: 'typedGains', kp: 2, ki: 0, kd: 1 } }
    const of = (rate: number) => expectDone(togetherFigures(documentOf({ rate }, slow), 'm', 'commands')).channels[0]!
    const [often, seldom] = [of(100), of(25)]
    const lost = often.phaseMargin! - seldom.phaseMargin!
    expect(lost).toBeNear((often.crossover! * (1 / 25 - 1 / 100)) / 2, { relative: 0.05 })
  })

  it('is told where it leaves nothing, as a run then grows', () => {
    const late = documentOf({ rate: 100, delay: 0.2 })
    expect(alone(late).stable).toBe(false)
    expect(expectDone(togetherFigures(late, 'm', 'commands')).stable).toBe(false)
    const angle = flown(late)
    expect(Math.max(...angle.slice(-100).map(Math.abs))).toBeGreaterThan(2 * Math.max(...angle.slice(0, 100).map(Math.abs)))
  })

  it.each([
    ['late by three samples', { rate: 100, delay: 0.03 }, {}],
    ['late by less than a sample', { rate: 100, delay: 0.004 }, {}],
    ['twice as often as the loop, and late', { rate: 200, delay: 0.02 }, {}],
    ['at half the rate of the loop', { rate: 50 }, {}],
    ['at a quarter of its rate, and late', { rate: 25, delay: 0.04 }, { tuning: { kind: 'typedGains', kp: 2, ki: 0, kd: 1 } }],
  ])('is in the prediction as in the run: %s', (_words, sensor, more) => {
    const document = documentOf(sensor, more)
    const line = predicted(document)
    const rows = flown(document)
    // a run has a row for every sample of whoever samples most often
    const every = (rows.length - 1) / (line.length - 1)
    const run = rows.filter((_, i) => i % every === 0)
    expect(line).toBeNear(run, { absolute: 1e-8 })
    const exact = predicted(documentOf({ rate: 100 }, more))
    expect(Math.max(...exact.map((value, i) => Math.abs(value - line[i]!)))).toBeGreaterThan(1e-3)
  })

  it('makes an estimator late that reads it', () => {
    const smooth = { smooth: { kind: 'lowPassEstimator', machine: 'm', signal: 'wheel.angle', corner: 60, rate: 100 } }
    const document = documentOf({ rate: 100, delay: 0.02 }, { reads: 'estimated' }, smooth)
    const prompt = documentOf({ rate: 100 }, { reads: 'estimated' }, smooth)
    expect(predicted(document)).toBeNear(flown(document), { absolute: 1e-8 })
    expect(handOf(prompt) - handOf(document)).toBeGreaterThan(0.05)
  })

  it('takes no time where the layer of its errors is off', () => {
    const document = documentOf({ rate: 100, delay: 0.03 })
    const off = { ...document, trials: { run: { ...document.trials.run!, realism: realismWith(['sampling']) } } } as Document
    expect(predicted(off)).toBeNear(predicted(documentOf({ rate: 100 })), { absolute: 1e-12 })
    expect(predicted(off)).toBeNear(flown(off), { absolute: 1e-8 })
  })
})
