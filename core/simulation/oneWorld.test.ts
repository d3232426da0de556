import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { lifterAsMechanism, readingOf } from '../tests/lifterAsMechanism'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { layersOn } from '../tests/oneMachine'
import { analyse, designLoop } from '../tuning'
import { compile, findColumn, limitsHit, start } from './index'

const pushes = new Set(['lift', 'rollMoment', 'pitchMoment', 'yawMoment'])

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

function asMechanism(document: Document): Document {
  const machines = { lamplighter: lifterAsMechanism(document.machines.lamplighter!) }
  const loops = Object.entries(document.loops).map(([name, loop]) => [
    name,
    {
      ...loop,
      holds: readingOf[loop.holds as string],
      pushes: pushes.has(loop.pushes as string) ? `pushes.${loop.pushes as string}` : loop.pushes,
    },
  ])
  const realism = layersOn(['sampling', 'driveDynamics', 'driveLimits', 'air'])
  const trials = Object.entries(document.trials).map(([name, part]) => [name, { ...part, realism, watch: undefined }])
  return { ...document, machines, loops: Object.fromEntries(loops), trials: Object.fromEntries(trials) } as unknown as Document
}

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
