import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { partsIn, replaceAt } from '../document'
import type { Document, Part } from '../document'
import { farFromGround, lampCascade, lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { realismWith } from '../tests/oneMachine'
import { compile, findColumn, limitsHit, start } from './index'

/** Reads the truth, without noise, with these layers, where rotors do not feel the ground. */
const plain = (document: Document, layers: readonly string[] = ['sampling', 'driveDynamics', 'driveLimits', 'air']): Document => {
  const loops = Object.entries(document.loops).map(([name, loop]) => [name, { ...loop, reads: 'true' }])
  const trials = Object.entries(document.trials).map(([name, trial]) => [
    name,
    { ...trial, method: 'fixed', step: 0.0025, realism: realismWith(layers) },
  ])
  return {
    ...farFromGround(document),
    estimators: {},
    loops: Object.fromEntries(loops),
    trials: Object.fromEntries(trials),
  } as Document
}
const run = (document: Document, trial?: string) => {
  const { resolved } = expectDone(checkDocument(document))
  const [first] = Object.keys(resolved.trials) as [string]
  return start(expectDone(compile(resolved, trial ?? first))).run({ trial: trial ?? first, layers: [], seed: 1 })
}
const seen = [
  ...['east', 'north', 'height', 'eastRate', 'northRate', 'climbRate'].map((one) => `readings.place.${one}`),
  ...['roll', 'pitch', 'heading', 'rollRate', 'pitchRate', 'yawRate', 'tiltEast', 'tiltNorth'].map(
    (one) => `readings.attitude.${one}`,
  ),
]

describe('a flight on its sensors', () => {
  /** Sensors of the same rate as the tick, without errors unless said: they read the truth a sample ago at most. */
  const sensed = (errors: Record<string, number>) => {
    const base = plain(lampCascade())
    const machine = base.machines.lamplighter!
    const { at } = partsIn(machine.readings).place!
    const sensors = {
      gyro: { kind: 'gyroscope', body: 'hull', rate: 200, ...errors },
      level: { kind: 'attitudeSensor', body: 'hull', rate: 200, ...errors },
      fixes: { kind: 'positionFix', body: 'hull', at, rate: 200, ...errors },
    }
    const measured = new Set(['tiltEast', 'tiltNorth', 'rollRate', 'pitchRate', 'heading', 'yawRate', 'height', 'east', 'north'])
    const loops = Object.entries(base.loops).map(([name, loop]) => [
      name,
      { ...loop, reads: measured.has(name) && !/Speed/.test(name) ? 'measured' : 'true' },
    ])
    const realism = realismWith(['sampling', 'driveDynamics', 'driveLimits', 'air', 'sensorErrors'])
    const trials = Object.entries(base.trials).map(([name, trial]) => [name, { ...trial, realism }])
    return {
      ...base,
      machines: { lamplighter: { ...machine, sensors } },
      loops: Object.fromEntries(loops),
      trials: Object.fromEntries(trials),
    }
  }
  const height = (record: ReturnType<typeof run>) => findColumn(record, 'lamplighter.readings.place.height')!

  it('flies as on the truth where they do not err, tilt and all', () => {
    const truth = run(plain(lampCascade()))
    const read = run(sensed({}))
    for (const reading of seen) {
      const [a, b] = [truth, read].map((record) => findColumn(record, `lamplighter.${reading}`)!)
      expect(Math.max(...a!.map((value, i) => Math.abs(value - b![i]!)))).toBeLessThan(1e-9)
    }
    expect(findColumn(read, 'lamplighter.readings.attitude.roll.measured')).toBeDefined()
  })

  it('flies late by their delay and off by their bias', () => {
    const [clean, biased] = [run(sensed({})), run(sensed({ bias: 0.02 }))]
    // each loop makes what it reads what it is asked: the height ends lower by the bias of its sensor
    expect(height(biased).at(-1)! - height(clean).at(-1)!).toBeNear(-0.02, { absolute: 2e-3 })
    const late = run(sensed({ delay: 0.02 }))
    expect(late.ending.kind).toBe('finished')
    expect(Math.max(...height(late).map((value, i) => Math.abs(value - height(clean)[i]!)))).toBeGreaterThan(1e-3)
  })

  it('is told where nothing measures what it reads', () => {
    const document = sensed({})
    const machine = document.machines.lamplighter!
    const { gyro: _gone, ...left } = machine.sensors
    const outcome = checkDocument({
      ...document,
      machines: { lamplighter: { ...machine, sensors: left } },
    })
    expect(outcome).toMatchObject({ kind: 'refused' })
    const problems = outcome.kind === 'refused' ? outcome.problems : []
    expect(problems.map(({ where }) => where)).toContain('loops.rollRate.reads')
  })
})

const estimators = {
  height: {
    ...{ kind: 'heightFilter', machine: 'lamplighter', range: 'sounder', inertial: 'inertial' },
    ...{ accelerationNoise: 0.25, rangeNoise: 0.012, startHeight: 0.05, startRate: 0.1 },
  },
  pose: {
    ...{ kind: 'poseFilter', machine: 'lamplighter', inertial: 'inertial', fixes: 'fixes' },
    ...{ gyroNoise: 0.004, accelerationNoise: 0.08, driftNoise: 1e-6, fixNoise: 0.4, headingNoise: 0.002 },
    ...{ startTilt: 0.01, startSpeed: 0.1, startPlace: 0.2, startDrift: 0.02 },
  },
}

describe('sensors away from the point that is estimated', () => {
  it('are counted from where they sit, also while the body turns and tilts', () => {
    const base = plain(lampCascade())
    const machine = base.machines.lamplighter!
    const { sounder, inertial } = machine.sensors as unknown as Record<string, Part & { readonly at: readonly number[] }>
    const away = (by: readonly number[]) => inertial!.at.map((value, k) => value + by[k]!)
    const sensors = {
      inertial,
      fixes: { kind: 'positionFix', body: 'hull', rate: 5, noise: 0.25, at: away([0.4, 0.1, 0.2]) },
      sounder: { ...sounder, farthest: 2e5, at: away([-0.3, 0.2, -0.4]) },
    }
    const record = run({
      ...base,
      machines: { lamplighter: { ...machine, sensors } },
      estimators,
      loops: Object.fromEntries(Object.entries(base.loops).map(([name, loop]) => [name, { ...loop, reads: 'estimated' }])),
    })
    for (const value of ['east', 'north', 'height']) {
      const [truth, estimate] = ['', '.estimate'].map((end) => findColumn(record, `lamplighter.readings.place.${value}${end}`)!)
      expect([value, Math.max(...truth!.map((one, i) => Math.abs(one - estimate![i]!))) < 0.15]).toEqual([value, true])
    }
    // it turned far, so that an arm of 0.4 m the wrong way would show
    expect(Math.max(...findColumn(record, 'lamplighter.readings.attitude.heading')!.map(Math.abs))).toBeGreaterThan(0.5)
  })
})

describe('drives behind an allocation', () => {
  it('are told when they have no more to give, plainly mixed or within their limits', () => {
    const base = plain(lamplighter())
    const heavy = {
      ...base,
      trials: { up: { ...base.trials.galleryRise!, cues: { up: { kind: 'stepCue', loop: 'height', at: 1, by: 40 } } } },
    }
    const { allocations } = base.machines.lamplighter as unknown as { allocations: { rotors: Part } }
    for (const kind of ['fixedMix', 'withinLimits']) {
      const rotors = { ...allocations.rotors, kind, ...(kind === 'withinLimits' ? { counts: [[1, 30, 30, 0.3]] } : {}) }
      const document = replaceAt<unknown>(heavy, 'machines.lamplighter.allocations', { rotors }) as Document
      const hits = limitsHit(expectDone(checkDocument(document)).resolved, run(document, 'up'))
      expect(hits).toMatchObject([
        { sort: 'drive', name: 'drives.rotor1', label: 'rotor 1 and 5 more', unit: 'rad/s', limit: 890 },
      ])
    }
  })

  it('are told nothing of where they have enough', () => {
    const gentle = replaceAt<Document>(plain(lamplighter()), 'trials.galleryRise.cues.rise.by', 0.2)
    expect(limitsHit(expectDone(checkDocument(gentle)).resolved, run(gentle, 'galleryRise'))).toEqual([])
  })
})
