import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { linearEyes } from '../control'
import { usualIntegralCorner } from './tunings'
import { compile, findColumn, predictTrial, start } from '../simulation'
import { expectDone } from '../tests/expectDone'
import { lampCascade } from '../tests/demo'
import { realismWith, oneMachine } from '../tests/oneMachine'
import { bodyPart, jointPart, linearPart, mechanismPart } from '../tests/parts'
import { responseFigures } from './figures'
import { analyse, calmMap, designLoop, findings, predict, togetherFigures } from './index'

const checked = (document: Document) => expectDone(checkDocument(document)).resolved
const designed = (document: Document, loop = 'hold') => {
  const { model, gains } = expectDone(designLoop(document, loop))
  return { ...analyse(model, gains), model, gains }
}
const flown = (document: Document, column: string) => {
  const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 5 })
  return [...findColumn(record, column)!]
}
const up = { up: { kind: 'stepCue', loop: 'hold', at: 0.1, by: 1 } }

/** A cart on a line, held by what an observer makes of its place. */
const cart = (more: object, disturbance = 0.5, rates: readonly [loop: number, eye: number] = [100, 100]) =>
  checked(
    oneMachine(
      linearPart(
        [
          [0, 1],
          [0, -0.2],
        ],
        [[0], [1]],
      ),
      {
        hold: {
          ...{ holds: 'x1', pushes: 'u1', reads: 'estimated', rate: rates[0], delay: 1 },
          ...{ law: { kind: 'proportionalIntegralDerivative', filterTime: 0.02 }, ...more },
        },
      },
      { cues: up, after: 8 },
      {
        eye: {
          ...{ kind: 'observer', machine: 'm', rate: rates[1], disturbance },
          reads: { a: { kind: 'observedSignal', signal: 'x1', noise: 0.02 } },
        },
      },
    ),
  )

describe('what stands between machine and law', () => {
  it.each([
    ['one gain', { law: { kind: 'proportional' }, holds: 'x2' }, 2, 0],
    ['two gains', { law: { kind: 'proportionalDerivative', filterTime: 0.02 } }, 2, 0.9],
    ['three gains', {}, 1.5, 0.8],
  ])('is counted in when gains are made for a crossover and margin: %s', (_words, more, crossover, phaseMargin) => {
    // one gain cannot choose its margin
    const asked = { kind: 'requirement', crossover, phaseMargin: phaseMargin || 1 }
    const found = designed(cart({ ...more, tuning: asked }))
    expect(found.model.known).toBeDefined()
    expect(found.stable).toBe(true)
    expect(found.crossover).toBeNear(crossover, { relative: 1e-9 })
    if (phaseMargin > 0) expect(found.phaseMargin).toBeNear(phaseMargin, { relative: 1e-9 })
    const sum = found.account.reduce((all, { phase }) => all + phase, 0)
    expect(sum).toBeNear(found.phaseMargin! - Math.PI, { absolute: 1e-9 })
    expect(found.account.find(({ name }) => name === 'sensing')).toBeDefined()
  })

  it.each([
    ['as often as the loop', [100, 100]],
    ['more often', [50, 100]],
  ] as const)('is in the step that its design is judged by, as in the run: %s', (_words, rates) => {
    const document = cart({ tuning: { kind: 'typedGains', kp: 4, ki: 1, kd: 3 } }, 0.5, rates)
    const { model, gains } = designed(document)
    const reference = (t: number) => [t >= 0.1 - 1e-9 ? 1 : 0, 0, 0] as const
    const own = predict(model, { gains, reference, imbalance: 0, closed: true, until: 8.1 })
    expect([...own.held]).toBeNear([...predictTrial(document, 'run', 'hold')!.held], { absolute: 1e-9 })
    const run = flown(document, 'm.x1')
    const every = (run.length - 1) / (own.held.length - 1)
    expect([...own.held]).toBeNear(
      run.filter((_, i) => i % every === 0),
      { absolute: 1e-6 },
    )
  })

  it('that tells less often than the loop asks, or not in step with it, is about what the whole says', () => {
    for (const rate of [20, 40, 70]) {
      const document = cart({ tuning: { kind: 'typedGains', kp: 4, ki: 1, kd: 3 } }, 0.5, [100, rate])
      const found = designed(document)
      const [whole] = expectDone(togetherFigures(document, 'm', 'pushes')).channels
      expect(found.stable).toBe(true)
      expect(found.crossover).toBeNear(whole!.crossover!, { relative: 0.02 })
      expect(found.phaseMargin).toBeNear(whole!.phaseMargin!, { absolute: 0.03 })
    }
  })

  it('is in the calm map as in the design that lies there', () => {
    const [crossover, phaseMargin] = [2, 0.9]
    const found = designed(cart({ tuning: { kind: 'requirement', crossover, phaseMargin } }))
    const map = calmMap(found.model, usualIntegralCorner, [crossover], [phaseMargin])
    expect(map.figures.sensitivityPeak[0]).toBeNear(found.margins.sensitivityPeak.factor, { relative: 2e-3 })
  })

  it('counts as delay where gains are made by lags and delay', () => {
    const of = (sensor: object, more: object) =>
      checked(
        oneMachine(
          {
            ...linearPart([[-2]], [[2]]),
            sensors: { gauge: { kind: 'signalSensor', signal: 'x1', rate: 100, ...sensor } },
          } as never,
          {
            hold: {
              ...{ holds: 'x1', pushes: 'u1', reads: 'measured', law: { kind: 'proportionalIntegral' }, delay: 0 },
              ...{ tuning: { kind: 'followWithin', timeConstant: 0.3 }, ...more },
            },
          },
        ),
      )
    const [late, slow, prompt] = [of({ delay: 0.05 }, {}), of({}, { delay: 5 }), of({}, {})].map((one) => designed(one).gains)
    expect([late!.kp, late!.ki]).toBeNear([slow!.kp, slow!.ki], { relative: 1e-9 })
    expect(late!.kp).toBeLessThan(0.9 * prompt!.kp)
  })

  it('is blamed where it alone upsets a loop, and the remedy puts it right', () => {
    const of = (corner: number) =>
      checked(
        oneMachine(
          linearPart([[-0.2]], [[1]]),
          {
            hold: {
              ...{ holds: 'x1', pushes: 'u1', reads: 'estimated', law: { kind: 'proportionalIntegral' } },
              tuning: { kind: 'typedGains', kp: 1, ki: 3, kd: 0 },
            },
          },
          { cues: up, after: 8 },
          { slow: { kind: 'lowPassEstimator', machine: 'm', signal: 'x1', corner, rate: 100 } },
        ),
      )
    const told = (document: Document) => {
      const design = expectDone(designLoop(document, 'hold'))
      const analysis = analyse(design.model, design.gains)
      const reference = () => [1, 0, 0] as const
      const step = predict(design.model, { gains: design.gains, reference, imbalance: 0, closed: true, until: 8 })
      const figures = responseFigures(step.t, step.held, step.push, 0, 0, 1)
      return findings({ design, analysis, figures, step, stepSize: 1 })
    }
    const slow = told(of(0.5))
    expect(slow.map(({ name }) => name)).toEqual(['swingsWider', 'sensesLate'])
    expect(slow[1]!.words).toMatch(/its estimator takes more phase than it has. Let the estimator be quicker/)
    expect(told(of(20)).map(({ name }) => name)).not.toContain('sensesLate')
    // a loop that is unstable by itself is not the estimator's fault
    const wrong = replaceAt<Document>(of(20), 'loops.hold.tuning.kp', -5)
    expect(told(wrong).map(({ name }) => name)).not.toContain('sensesLate')
  })
})

describe('a reading that a push moves at once', () => {
  const sled = (more: object, sensors: object = {}) =>
    oneMachine(
      mechanismPart(
        {
          sled: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0], start: 0 })),
        },
        {
          drives: { motor: { kind: 'effortDrive', joint: 'sled.travel', most: 1000 } },
          readings: { felt: { kind: 'accelerationReading', body: 'sled', at: [0, 0, 0], from: 'ground' } },
          ...sensors,
        },
      ) as never,
      {
        hold: {
          ...{ holds: 'readings.felt.east', pushes: 'drives.motor', law: { kind: 'proportionalIntegral' }, delay: 0 },
          ...{ tuning: { kind: 'typedGains', kp: 0.4, ki: 30, kd: 0 }, ...more },
        },
      },
      { cues: up, after: 2, realism: realismWith(['sampling', 'viscous', 'sensorErrors']) },
    )

  it('is refused where the loop would go round within one sample, and the remedy does it', () => {
    const outcome = designLoop(checked(sled({})), 'hold')
    expect(outcome.kind === 'refused' && outcome.problems).toMatchObject([
      { where: 'loops.hold.holds', what: /answers to motor .* at once/, remedy: /compute for a sample/ },
    ])
    expect(designLoop(checked(sled({ delay: 1 })), 'hold').kind).toBe('done')
  })

  it.each([1, 2])('is held behind %i samples of computation, as the run says', (delay) => {
    const document = checked(sled({ delay }))
    const line = predictTrial(document, 'run', 'hold')!
    const run = flown(document, 'm.readings.felt.east')
    expect([...line.held]).toBeNear(run, { absolute: 1e-9 })
    const { stable, phaseMargin } = designed(document)
    expect(stable).toBe(true)
    expect(phaseMargin).toBeGreaterThan(0.5)
    const [whole] = expectDone(togetherFigures(document, 'm', 'commands')).channels
    expect(whole!.phaseMargin).toBeNear(phaseMargin!, { relative: 1e-6 })
  })

  it('swings ever wider where gain and delay are too much, in the design, the whole and the run', () => {
    const document = checked(sled({ delay: 3, tuning: { kind: 'typedGains', kp: 2.3, ki: 60, kd: 0 } }))
    expect(designed(document).stable).toBe(false)
    expect(expectDone(togetherFigures(document, 'm', 'commands')).stable).toBe(false)
    const run = flown(document, 'm.readings.felt.east').map(Math.abs)
    expect(Math.max(...run.slice(-50))).toBeGreaterThan(3 * Math.max(...run.slice(0, 50)))
  })
})

describe('a tilt that follows from an attitude told late', () => {
  const late = (delay: number) =>
    checked(replaceAt<Document>(lampCascade(), 'machines.lamplighter.sensors.inertial.delay', delay))

  it('takes the phase of the delay, as its rate does', () => {
    const document = late(0.01)
    expect(linearEyes(document, 'lamplighter').some(({ estimated }) => estimated.includes('readings.attitude.tiltEast'))).toBe(
      true,
    )
    const { account, crossover } = designed(document, 'tiltEast')
    expect(account.find(({ name }) => name === 'sensing')!.phase).toBeNear(-0.01 * crossover!, { absolute: 1e-9 })
    expect(designed(late(0), 'tiltEast').account.find(({ name }) => name === 'sensing')).toBeUndefined()
  })

  it('by an estimator moves as its roll and pitch do where the body stands upright', () => {
    const document = checked(
      replaceAt<Document>(lampCascade(), 'estimators.tilt', {
        ...{ kind: 'tiltFilter', machine: 'lamplighter', inertial: 'inertial', timeConstant: 1 },
      }),
    )
    const eyes = linearEyes(document, 'lamplighter')
    const roll = eyes.find(({ estimated }) => estimated.includes('readings.attitude.roll'))!
    const tilt = eyes.find(({ estimated }) => estimated.includes('readings.attitude.tiltEast'))!
    const row = roll.estimated.indexOf('readings.attitude.roll')
    // what the tilt reads beside is the heading, which does not matter upright
    const count = roll.reads.length
    expect(tilt.reads.slice(0, count)).toEqual(roll.reads)
    expect(tilt.system.d[0]!.slice(0, count)).toBeNear(roll.system.d[row]!, { absolute: 1e-12 })
    expect(tilt.system.d[0]!.slice(count)).toBeNear([0], { absolute: 1e-9 })
    expect(tilt.system.c[0]).toBeNear(roll.system.c[row]!, { absolute: 1e-12 })
  })
})

describe('a height filter', () => {
  it('is late by what its range finder is', () => {
    const of = (delay: number) => checked(replaceAt<Document>(lampCascade(), 'machines.lamplighter.sensors.sounder.delay', delay))
    const eye = (delay: number) =>
      linearEyes(of(delay), 'lamplighter').find(({ estimated }) => estimated.includes('readings.place.height'))!
    expect(eye(0.1).system.a.length - eye(0).system.a.length).toBe(20) // samples of the inertial sensor, 200 a second
    expect(designed(of(0.1), 'height').model.read.a.length).toBeGreaterThan(designed(of(0), 'height').model.read.a.length)
  })
})
