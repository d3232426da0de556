import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { designLoop } from '../tuning'
import { compile, findColumn, start } from './index'

const wheel = (sensors: object) =>
  mechanismPart(
    { wheel: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.2], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 0, 1], start: 0 })) },
    { drives: { motor: { kind: 'effortDrive', joint: 'wheel.angle', most: 1000 } }, sensors },
  )
const encoder = { kind: 'encoder', joint: 'wheel.angle', rate: 500, resolution: 0.01 }
const tachometer = { kind: 'tachometer', joint: 'wheel.angle', rate: 250, noise: 0.002, bias: 0.05 }

function documentOf(sensors: object, errors = true, more: object = {}): Document {
  const hold = {
    ...{ holds: 'wheel.angle', pushes: 'drives.motor', reads: 'measured', rate: 250, law: { kind: 'pdOnRate' } },
    ...{ tuning: { kind: 'typedGains', kp: 8, ki: 0, kd: 1.6 }, ...more },
  }
  const cues = { up: { kind: 'stepCue', loop: 'hold', at: 0.5, by: 1 } }
  return oneMachine(
    wheel(sensors) as never,
    { hold },
    { cues, after: 4, realism: realismWith(['sampling', ...(errors ? ['sensorErrors'] : [])]) },
  )
}
const flown = (document: Document) => {
  const { resolved } = expectDone(checkDocument(document))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 5 })
  return (name: string) => [...findColumn(record, name)!]
}
const problems = (document: Document) => {
  const found = checkDocument(document)
  return found.kind === 'refused' ? found.problems : []
}

describe('joint sensors that loops read', () => {
  it('read in the steps of an encoder', () => {
    const column = flown(documentOf({ encoder, tachometer }))
    const read = column('m.wheel.angle.measured')
    for (const value of read) expect(Math.abs(value / 0.01 - Math.round(value / 0.01))).toBeLessThan(1e-9)
    const truth = column('m.wheel.angle')
    expect(Math.max(...read.map((value, k) => Math.abs(value - truth[k]!)))).toBeLessThan(0.03)
  })

  it('lead the law astray by their bias: rate gain times bias over the gain on the error, no source, common practice', () => {
    const column = flown(documentOf({ encoder: { ...encoder, resolution: 0 }, tachometer: { ...tachometer, noise: 0 } }))
    expect(column('m.wheel.angle').at(-1)!).toBeNear(1 - (1.6 * 0.05) / 8, { absolute: 2e-3 })
  })

  it('err as the trial changes them, which the document does not know', () => {
    const still = documentOf({ encoder, tachometer: { ...tachometer, noise: 0 } }, true, { closed: false })
    const off = { off: { kind: 'override', parameter: 'sensors.tachometer.bias', how: 'set', amount: 0.2 } }
    const changed = { ...still, trials: { run: { ...still.trials.run!, overrides: off } } } as Document
    expect([still, changed].map((one) => flown(one)('m.wheel.rate.measured').at(-1))).toEqual([0.05, 0.2])
  })

  it('read the truth at their own rate where sensors do not err', () => {
    const exact = flown(documentOf({ encoder, tachometer }, false))
    const truth = flown(documentOf({ encoder, tachometer }, false, { reads: 'true' }))
    // the encoder makes the common tick twice as fine
    const shared = exact('m.wheel.angle').filter((_, k) => k % 2 === 0)
    expect(shared).toBeNear(truth('m.wheel.angle'), { absolute: 1e-9 })
  })

  it('come late, spread as their density says, and repeat what was lost', () => {
    const late = flown(documentOf({ encoder: { ...encoder, resolution: 0, delay: 0.02 }, tachometer }))
    const [read, truth] = [late('m.wheel.angle.measured'), late('m.wheel.angle')]
    const steps = Math.round(0.02 / (5 / read.length))
    const shift = (by: number) => Math.max(...read.slice(60).map((value, k) => Math.abs(value - truth[k + 60 - by]!)))
    expect(shift(steps)).toBeLessThan(0.5 * shift(0))
    const still = flown(documentOf({ encoder, tachometer: { ...tachometer, bias: 0 } }, true, { closed: false }))
    const noise = still('m.wheel.rate.measured')
    const spread = Math.sqrt(noise.reduce((sum, one) => sum + one * one, 0) / noise.length)
    expect(spread).toBeNear(0.002 * Math.sqrt(250 / 2), { relative: 0.12 })
    const lost = flown(documentOf({ encoder, tachometer: { ...tachometer, dropout: 1 } }, true, { closed: false }))
    expect(new Set(lost('m.wheel.rate.measured')).size).toBe(1)
  })

  it('drift as a random walk: after T seconds by the drift times the root of T, however often they are read', () => {
    const driftAfter = (rate: number) => {
      const still = documentOf({ encoder: { ...encoder, rate, resolution: 0, drift: 0.02 }, tachometer }, true, { closed: false })
      const { resolved } = expectDone(checkDocument({ ...still, trials: { run: { ...still.trials.run!, cues: {} } } }))
      const simulation = start(expectDone(compile(resolved, 'run')))
      const ends = Array.from({ length: 60 }, (_, seed) => {
        const record = simulation.run({ trial: 'run', layers: [], seed, values: { seed } })
        return findColumn(record, 'm.wheel.angle.measured')!.at(-1)!
      })
      return Math.sqrt(ends.reduce((sum, end) => sum + end * end, 0) / ends.length)
    }
    // 4 s: 0.02 times 2; sixty walks tell it to a tenth or so
    for (const rate of [250, 1000]) expect(driftAfter(rate)).toBeNear(0.04, { relative: 0.3 })
  })

  it('wander by other numbers than those of their noise, and each reading of a sensor by its own', () => {
    const correlation = (a: readonly number[], b: readonly number[]) => {
      const [x, y] = [a, b].map((values) => {
        const mean = values.reduce((sum, one) => sum + one, 0) / values.length
        return values.map((one) => one - mean)
      }) as [number[], number[]]
      const over = (p: readonly number[], q: readonly number[]) => p.reduce((sum, one, i) => sum + one * q[i]!, 0)
      return over(x, y) / Math.sqrt(over(x, x) * over(y, y))
    }
    const still = (sensors: object) => flown(documentOf({ encoder, tachometer, ...sensors }, true, { closed: false }))
    const read = (errors: object) => {
      const column = still({ tachometer: { ...tachometer, bias: 0, noise: 0, ...errors } })('m.wheel.rate.measured')
      return column.filter((_, k) => k % 2 === 0)
    }
    const [noise, drift] = [read({ noise: 0.01 }), read({ drift: 0.01 })]
    const steps = drift.slice(1).map((value, k) => value - drift[k]!)
    // a thousand pairs: by chance within 0.03 or so
    expect(Math.abs(correlation(noise.slice(1), steps))).toBeLessThan(0.15)
    const lifter = lamplighter()
    const record = start(expectDone(compile(lifter, 'galleryRise'))).run({ trial: 'galleryRise', layers: [], seed: 5 })
    const errors = (reading: string) => {
      const [truth, measured] = ['', '.measured'].map((end) =>
        findColumn(record, `lamplighter.sensors.inertial.${reading}${end}`)!,
      )
      return [...measured!].map((value, k) => value - truth![k]!)
    }
    const names = ['rateX', 'rateY', 'rateZ', 'forceX', 'roll', 'pitch']
    for (const [i, one] of names.entries())
      for (const other of names.slice(i + 1))
        expect(Math.abs(correlation(errors(one), errors(other))), `${one} ${other}`).toBeLessThan(0.15)
  })

  it('are missed by name', () => {
    expect(problems(documentOf({ encoder }))).toMatchObject([{ where: 'loops.hold.reads', what: /nothing measures wheel\.rate/ }])
    expect(problems(documentOf({ encoder }, true, { law: { kind: 'proportional' } }))).toEqual([])
  })
})

describe('readings that loops hold', () => {
  const gyroscope = { kind: 'gyroscope', body: 'wheel', rate: 250, noise: 0, bias: 0.02 }
  const plain = { law: { kind: 'proportionalIntegral' }, tuning: { kind: 'typedGains', kp: 1.2, ki: 3, kd: 0 } }

  it('are the rate of the joint for a gyroscope about its axis, which the same gains hold alike', () => {
    const read = flown(documentOf({ gyroscope }, false, { ...plain, holds: 'sensors.gyroscope.z' }))
    const joint = flown(documentOf({ tachometer }, false, { ...plain, holds: 'wheel.rate' }))
    expect(read('m.wheel.rate')).toBeNear(joint('m.wheel.rate'), { absolute: 1e-9 })
    expect(read('m.wheel.rate').at(-1)!).toBeNear(1, { absolute: 2e-2 })
  })

  it('carry the errors of their sensor: an integral holds the reading, so that the truth lies off by the bias', () => {
    const column = flown(documentOf({ gyroscope }, true, { ...plain, holds: 'sensors.gyroscope.z' }))
    expect(column('m.sensors.gyroscope.z.measured').at(-1)!).toBeNear(1, { absolute: 2e-2 })
    expect(column('m.sensors.gyroscope.z.measured').at(-1)! - column('m.wheel.rate').at(-1)!).toBeNear(0.02, { absolute: 1e-3 })
  })

  it('may be a formula, with the gains of what it stands for', () => {
    const doubled = { kind: 'formulaSensor', reading: '2 * wheel.rate', unit: 'rad/s', rate: 250 }
    const half = { kind: 'typedGains', kp: 0.6, ki: 1.5, kd: 0 }
    const twice = { ...plain, tuning: half, holds: 'sensors.doubled' }
    const document = documentOf({ doubled }, false, twice)
    const cues = { up: { kind: 'stepCue', loop: 'hold', at: 0.5, by: 2 } }
    const column = flown({ ...document, trials: { run: { ...document.trials.run!, cues } } } as Document)
    const joint = flown(documentOf({ tachometer }, false, { ...plain, holds: 'wheel.rate' }))
    expect(column('m.wheel.rate')).toBeNear(joint('m.wheel.rate'), { absolute: 1e-9 })
  })

  it('are refused where the push moves them at once, with what to hold instead', () => {
    const accelerometer = { kind: 'accelerometer', body: 'wheel', at: [0.1, 0, 0], rate: 250 }
    const { resolved } = expectDone(
      checkDocument(documentOf({ accelerometer }, true, { ...plain, holds: 'sensors.accelerometer.y' })),
    )
    expect(designLoop(resolved, 'hold')).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'loops.hold.holds', what: /answers to .* at once/, remedy: /Hold what it moves/ }],
    })
  })

  it('lead an observer astray by their errors, where it reads a sensor', () => {
    const biased = { ...encoder, resolution: 0, bias: 0.03 }
    const document = {
      ...documentOf({ biased }, true, { reads: 'estimated' }),
      estimators: {
        watch: {
          kind: 'observer',
          machine: 'm',
          rate: 250,
          disturbance: 1,
          reads: { angle: { kind: 'observedSignal', signal: 'wheel.angle', noise: 1e-3 } },
        },
      },
    }
    const column = flown(document)
    expect(column('m.wheel.angle').at(-1)!).toBeNear(1 - 0.03, { absolute: 5e-3 })
  })
})
