import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { withoutLifters } from '../lifters'
import { readingOf } from '../tests/lifterAsMechanism'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { layersOn } from '../tests/oneMachine'
import { analyse, designLoop } from '../tuning'
import { compile, findColumn, limitsHit, start } from './index'

/** Both read the truth and start without noise; the one as a lifter of its own kind, the other as bodies on joints. */
const plain = (name: string): Document => {
  // far from the ground, as a lifter of its own kind does not feel it
  const document = replaceAt<Document>(demo(name), 'machines.lamplighter.ground', -1e5)
  const loops = Object.entries(document.loops).map(([loop, part]) => [loop, { ...part, reads: 'true' }])
  const trials = Object.entries(document.trials).map(([trial, part]) => [
    trial,
    { ...part, method: 'fixed', step: 0.0025, realism: { ...(part.realism as Part), sensorNoise: false, estimator: false } },
  ])
  return { ...document, estimators: {}, loops: Object.fromEntries(loops), trials: Object.fromEntries(trials) } as Document
}

const asMechanism = withoutLifters

describe.each(['lamplighter', 'lamplighter-cascade'])('%s as bodies on joints', (name) => {
  const own = expectDone(checkDocument(plain(name))).resolved
  const other = expectDone(checkDocument(asMechanism(plain(name)))).resolved

  it('has the same gains and margins in every loop', () => {
    for (const loop of Object.keys(own.loops)) {
      const [mine, theirs] = [own, other].map((document) => {
        const { model, gains } = expectDone(designLoop(document, loop))
        return { gains, found: analyse(model, gains) }
      })
      expect(Object.values(theirs!.gains)).toBeNear(Object.values(mine!.gains), { relative: 1e-7, absolute: 1e-9 })
      expect([theirs!.found.crossover, theirs!.found.phaseMargin]).toBeNear([mine!.found.crossover, mine!.found.phaseMargin], {
        relative: 1e-7,
      })
      expect(theirs!.found.stable).toBe(mine!.found.stable)
    }
  })

  it.each(Object.keys(own.trials))('flies %s alike', (trial) => {
    const [mine, theirs] = [own, other].map((document) =>
      start(expectDone(compile(document, trial))).run({ trial, layers: [], seed: 1 }),
    )
    expect([mine!.ending.kind, theirs!.ending.kind]).toEqual(['finished', 'finished'])
    let moved = 0
    for (const [quantity, reading] of Object.entries(readingOf)) {
      const [a, b] = [findColumn(mine!, `lamplighter.${quantity}`)!, findColumn(theirs!, `lamplighter.${reading}`)!]
      const size = Math.max(...a.map(Math.abs))
      expect(Math.max(...a.map((value, i) => Math.abs(value - b[i]!)))).toBeLessThan(1e-9 + 1e-8 * size)
      if (size > 0.05) moved++
    }
    expect(moved).toBeGreaterThan(1)
  })
})

const estimators = {
  height: {
    ...{ kind: 'heightFilter', machine: 'lamplighter', range: 'sounder', inertial: 'inertial' },
    ...{ accelerationNoise: 0.25, rangeNoise: 0.012, startHeight: 0.05, startRate: 0.1 },
  },
  tilt: { kind: 'tiltFilter', machine: 'lamplighter', inertial: 'inertial', timeConstant: 4 },
  pose: {
    ...{ kind: 'poseFilter', machine: 'lamplighter', inertial: 'inertial', fixes: 'fixes' },
    ...{ gyroNoise: 0.004, accelerationNoise: 0.08, driftNoise: 1e-6, fixNoise: 0.4, headingNoise: 0.002 },
    ...{ startTilt: 0.01, startSpeed: 0.1, startPlace: 0.2, startDrift: 0.02 },
  },
  smooth: { kind: 'lowPassEstimator', machine: 'lamplighter', signal: 'heading', corner: 40, rate: 200 },
}
/** Both with the same estimators, without noise; loops read what those estimate. */
const pair = (wanted: readonly (keyof typeof estimators)[], gyroDrift: number) => {
  const own = Object.fromEntries(wanted.map((name) => [name, estimators[name]]))
  const base = plain('lamplighter-cascade')
  // the ground is far, so that rotors do not feel it: the range finder looks as far
  const changed = [
    ['machines.lamplighter.sensors.sounder.most', 2e5],
    ['machines.lamplighter.sensors.inertial.gyroDrift', gyroDrift],
    ['machines.lamplighter.sensors.fixes', { kind: 'positionFixes', rate: 5, noise: 0.4 }],
    ['estimators', own],
  ].reduce<Document>((document, [path, value]) => replaceAt(document, path as string, value), base)
  const lifter = {
    ...changed,
    loops: Object.fromEntries(Object.entries(changed.loops).map(([name, loop]) => [name, { ...loop, reads: 'estimated' }])),
    trials: Object.fromEntries(
      Object.entries(changed.trials).map(([name, trial]) => [
        name,
        { ...trial, realism: { ...(trial.realism as Part), estimator: true } },
      ]),
    ),
  } as Document
  const smooth = 'smooth' in own ? { smooth: { ...estimators.smooth, signal: readingOf.heading } } : {}
  const mechanism = {
    ...asMechanism(lifter),
    estimators: { ...own, ...smooth },
  } as unknown as Document
  const errs = (document: Document) => ({
    ...document,
    trials: Object.fromEntries(
      Object.entries(document.trials).map(([name, trial]) => [
        name,
        { ...trial, realism: { ...(trial.realism as Part), ...(gyroDrift === 0 ? {} : { sensorErrors: true }) } },
      ]),
    ),
  })
  return { lifter: quiet(lifter, gyroDrift), mechanism: remedied(quiet(errs(mechanism) as Document, gyroDrift)) }
}
/** A loop of a lifter that nothing estimates for reads the truth without a word; one of a mechanism is told to. */
const remedied = (document: Document): Document => {
  const checked = checkDocument(document)
  const told = checked.kind === 'refused' ? checked.problems.map(({ where }) => where) : []
  expect(told.every((where) => where.endsWith('.reads'))).toBe(true)
  return told.reduce<Document>((next, where) => replaceAt(next, where, 'true'), document)
}
/** Without noise, with the bias of its gyroscope: the lifter's layer of noise holds both. */
const quiet = (document: Document, gyroDrift: number): Document => {
  if (gyroDrift === 0) return document
  const silent = /Noise$|^noise$/
  const machine = document.machines.lamplighter!
  const sensors = Object.fromEntries(
    Object.entries(machine.sensors as unknown as Record<string, Part>).map(([name, sensor]) => [
      name,
      Object.fromEntries(Object.entries(sensor).map(([slot, value]) => [slot, silent.test(slot) ? 0 : value])),
    ]),
  )
  const trials = Object.fromEntries(
    Object.entries(document.trials).map(([name, trial]) => {
      const realism = trial.realism as Part
      return [name, { ...trial, realism: 'sensorNoise' in realism ? { ...realism, sensorNoise: true } : realism }]
    }),
  )
  return { ...document, machines: { lamplighter: { ...machine, sensors } }, trials } as unknown as Document
}

it('flies alike with its equations turned round as feedforward', () => {
  const equations = { own: { kind: 'inverseDynamics', on: true, scale: 1 } }
  const given = (document: Document): Document => ({
    ...document,
    loops: Object.fromEntries(
      Object.entries(document.loops).map(([name, loop]) => [
        name,
        // what loops command has no cue of its own to look ahead on
        name === 'height' || name === 'heading' ? { ...loop, feedforwards: equations } : loop,
      ]),
    ),
  })
  const swings = { swing: { kind: 'sineCue', loop: 'height', at: 0.5, over: 3, by: 0.4, frequency: 3 } }
  const moved = (document: Document) => replaceAt<Document>(document, 'trials.galleryRise.cues', swings)
  const base = given(moved(plain('lamplighter')))
  const [own, other] = [base, asMechanism(base)].map((document) => {
    const { resolved } = expectDone(checkDocument(document))
    return start(expectDone(compile(resolved, 'galleryRise'))).run({ trial: 'galleryRise', layers: [], seed: 1 })
  })
  for (const [quantity, reading] of Object.entries(readingOf)) {
    const [a, b] = [findColumn(own!, `lamplighter.${quantity}`)!, findColumn(other!, `lamplighter.${reading}`)!]
    const size = Math.max(...a.map(Math.abs))
    expect(Math.max(...a.map((value, i) => Math.abs(value - b[i]!)))).toBeLessThan(1e-9 + 1e-8 * size)
  }
  const without = start(expectDone(compile(expectDone(checkDocument(moved(plain('lamplighter')))).resolved, 'galleryRise'))).run({
    ...{ trial: 'galleryRise', layers: [], seed: 1 },
  })
  const height = (record: typeof without) => findColumn(record, 'lamplighter.height')!
  expect(Math.max(...height(without).map((value, i) => Math.abs(value - height(own!)[i]!)))).toBeGreaterThan(0.01)
})

describe('a lifter as bodies on joints that reads its sensors', () => {
  /** Sensors of the same rate as the tick, without errors unless said: they read the truth a sample ago at most. */
  const sensed = (errors: Record<string, number>) => {
    const base = asMechanism(plain('lamplighter-cascade'))
    const machine = base.machines.lamplighter!
    const { at } = (machine.readings as Readonly<Record<string, Part>>).place!
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
    const realism = layersOn(['sampling', 'driveDynamics', 'driveLimits', 'air', 'sensorErrors'])
    const trials = Object.entries(base.trials).map(([name, trial]) => [name, { ...trial, realism }])
    return {
      ...base,
      machines: { lamplighter: { ...machine, sensors } },
      loops: Object.fromEntries(loops),
      trials: Object.fromEntries(trials),
    } as unknown as Document
  }
  const run = (document: Document) => {
    const { resolved } = expectDone(checkDocument(document))
    const [trial] = Object.keys(resolved.trials) as [string]
    return start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 1 })
  }
  const height = (record: ReturnType<typeof run>) => findColumn(record, 'lamplighter.readings.place.height')!

  it('flies as on the truth where they do not err, tilt and all', () => {
    const truth = run(asMechanism(plain('lamplighter-cascade')))
    const read = run(sensed({}))
    for (const reading of Object.values(readingOf)) {
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
    const { gyro: _gone, ...left } = machine.sensors as unknown as Record<string, Part>
    const outcome = checkDocument({
      ...document,
      machines: { lamplighter: { ...machine, sensors: left } },
    } as unknown as Document)
    expect(outcome).toMatchObject({ kind: 'refused' })
    const problems = outcome.kind === 'refused' ? outcome.problems : []
    expect(problems.map(({ where }) => where)).toContain('loops.rollRate.reads')
  })
})

describe('estimators of a lifter, and of the same as bodies on joints', () => {
  const cases: readonly (readonly [readonly (keyof typeof estimators)[], number])[] = [
    [['height', 'pose', 'smooth'], 0],
    [['height', 'tilt'], 0.003],
    [['pose'], 0.003],
  ]

  it.each(cases)('%s, with a drift of %f rad/s: estimate and fly alike', (wanted, gyroDrift) => {
    const { lifter, mechanism } = pair(wanted, gyroDrift)
    const [own, other] = [lifter, mechanism].map((document) => {
      const { resolved } = expectDone(checkDocument(document))
      const [trial] = Object.keys(resolved.trials) as [string]
      return start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 1 })
    })
    expect([own!.ending.kind, other!.ending.kind]).toEqual(['finished', 'finished'])
    const alike = (one: string, two: string) => {
      const [a, b] = [findColumn(own!, one), findColumn(other!, two)]
      expect([one, a === undefined]).toEqual([one, b === undefined])
      if (a === undefined) return 0
      const size = Math.max(...a.map(Math.abs))
      expect([one, Math.max(...a.map((value, i) => Math.abs(value - b![i]!))) < 1e-9 + 1e-8 * size]).toEqual([one, true])
      return size > 1e-3 ? 1 : 0
    }
    let [moved, estimated] = [0, 0]
    for (const [quantity, reading] of Object.entries(readingOf)) {
      moved += alike(`lamplighter.${quantity}`, `lamplighter.${reading}`)
      estimated += alike(`lamplighter.${quantity}.estimate`, `lamplighter.${reading}.estimate`)
    }
    for (const { name } of own!.columns.filter(({ name: one }) => one.startsWith('estimators.'))) alike(name, name)
    expect(moved).toBeGreaterThan(6)
    expect(estimated).toBeGreaterThanOrEqual(wanted.length)
  })
})

describe('sensors away from the point that is estimated', () => {
  it('are counted from where they sit, also while the body turns and tilts', () => {
    const { mechanism } = pair(['height', 'pose'], 0)
    const machine = mechanism.machines.lamplighter!
    const { fixes, sounder, inertial } = machine.sensors as unknown as Record<string, Part & { readonly at: readonly number[] }>
    const away = (by: readonly number[]) => inertial!.at.map((value, k) => value + by[k]!)
    const moved = {
      ...machine,
      sensors: { inertial, fixes: { ...fixes, at: away([0.4, 0.1, 0.2]) }, sounder: { ...sounder, at: away([-0.3, 0.2, -0.4]) } },
    }
    const { resolved } = expectDone(checkDocument({ ...mechanism, machines: { lamplighter: moved } } as unknown as Document))
    const [trial] = Object.keys(resolved.trials) as [string]
    const record = start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 1 })
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
    const base = asMechanism(plain('lamplighter'))
    const heavy = {
      ...base,
      trials: { up: { ...base.trials.galleryRise!, cues: { up: { kind: 'stepCue', loop: 'height', at: 1, by: 40 } } } },
    }
    const { allocations } = base.machines.lamplighter as unknown as { allocations: { rotors: Part } }
    for (const kind of ['fixedMix', 'withinLimits']) {
      const rotors = { ...allocations.rotors, kind, ...(kind === 'withinLimits' ? { counts: [[1, 30, 30, 0.3]] } : {}) }
      const document = replaceAt<unknown>(heavy, 'machines.lamplighter.allocations', { rotors }) as Document
      const { resolved } = expectDone(checkDocument(document))
      const record = start(expectDone(compile(resolved, 'up'))).run({ trial: 'up', layers: [], seed: 1 })
      const hits = limitsHit(resolved, record)
      expect(hits).toMatchObject([
        { sort: 'drive', name: 'drives.rotor1', label: 'rotor 1 and 5 more', unit: 'rad/s', limit: 890 },
      ])
    }
  })

  it('are told nothing of where they have enough', () => {
    const gentle = replaceAt<Document>(asMechanism(plain('lamplighter')), 'trials.galleryRise.cues.rise.by', 0.2)
    const { resolved } = expectDone(checkDocument(gentle))
    const record = start(expectDone(compile(resolved, 'galleryRise'))).run({ trial: 'galleryRise', layers: [], seed: 1 })
    expect(limitsHit(resolved, record)).toEqual([])
  })
})
