import { describe, expect, it } from 'vitest'
import { multiply } from '../algebra'
import { checkDocument } from '../check'
import { inverseProblem, inversePushes, linearEstimators, linearMachine, rateOfPrefix } from '../control'
import type { StateSpace } from '../linear'
import { designLayers, numbersOf, spread } from '../machine'
import type { AnyLayer } from '../machine'
import { compile, findColumn, start } from '../simulation'
import { earlierText } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { reference } from '../tests/reference'
import { analyse, designLoop } from '../tuning'
import { readingOfLifter as readingOf } from './lifters'
import { columnsNow, findAt, migrate, replaceAt } from './index'
import type { Document, LoopPart, Part, TrialPart } from './index'

// What a lifter of its own kind did before it became bodies on joints: two ways to every number.
interface Flown {
  readonly rows: number
  readonly picked: readonly number[]
  readonly columns: Readonly<Record<string, readonly number[]>>
  readonly sizes: Readonly<Record<string, number>>
}
type Steps = Readonly<Record<string, readonly (readonly number[])[]>>
interface Before {
  readonly hover: readonly number[]
  readonly steps: Steps
  readonly inverse: readonly {
    readonly motions: readonly (readonly [number, number, number])[]
    readonly pushes: readonly number[]
  }[]
  readonly allocation: readonly Readonly<Record<'asked' | 'mixed' | 'within', readonly number[]>>[]
  readonly loops: Readonly<
    Record<
      string,
      { readonly gains: readonly number[]; readonly crossover: number; readonly phaseMargin: number; readonly stable: boolean }
    >
  >
  readonly trials: Readonly<Record<string, Flown>>
  readonly filter: { readonly system: StateSpace; readonly estimated: readonly string[] }
}
interface Records {
  readonly documents: Readonly<Record<'lamplighter' | 'lamplighter-cascade', Before>>
  readonly flight: {
    readonly heading: number
    readonly velocity: readonly [number, number, number]
    readonly held: Readonly<Record<string, number>>
    readonly pushes: Readonly<Record<string, number>>
    readonly steps: Steps
  }
  readonly estimates: readonly (Flown & { readonly wanted: readonly (keyof typeof estimators)[]; readonly drift: number })[]
  readonly turnedRound: Flown
}
const records = reference<never, never>('lifter') as unknown as Records
const names = ['lamplighter', 'lamplighter-cascade'] as const
const axes = ['lift', 'rollMoment', 'pitchMoment', 'yawMoment']
const readings = Object.values(readingOf)

/** As it was written, of version 4. */
const written = (name: string) => JSON.parse(earlierText(`${name}-4`)) as Document
const trialsOf = (document: Document, change: (trial: TrialPart) => TrialPart) =>
  Object.fromEntries(Object.entries(document.trials).map(([name, trial]) => [name, change(trial)]))
const loopsOf = (document: Document, change: (loop: LoopPart, name: string) => LoopPart) =>
  Object.fromEntries(Object.entries(document.loops).map(([name, loop]) => [name, change(loop, name)]))
/** Reads the truth, without noise, and so far from the ground that rotors do not feel it: a lifter of its own kind never did. */
const plain = (name: string): Document => {
  const document = replaceAt<Document>(written(name), 'machines.lamplighter.ground', -1e5)
  const quiet = (trial: TrialPart) => ({ ...trial.realism, sensorNoise: false, estimator: false })
  return {
    ...document,
    estimators: {},
    loops: loopsOf(document, (loop) => ({ ...loop, reads: 'true' })),
    trials: trialsOf(document, (trial) => ({ ...trial, method: 'fixed', step: 0.0025, realism: quiet(trial) })),
  }
}
const resolvedOf = (document: Document) => expectDone(checkDocument(document)).resolved
const flown = (document: Document, trial: string) =>
  start(expectDone(compile(resolvedOf(document), trial))).run({ trial, layers: [], seed: 1 })

/** A column of then under the name that it has now. */
const nowCalled = (column: string) => {
  const [, quantity, rest] = /^lamplighter\.(\w+)(.*)$/.exec(column) ?? []
  return quantity === undefined ? column : `lamplighter.${readingOf[quantity]!}${rest!}`
}
/** Every column of a run as it was then, to a hundred-millionth of its size; how many moved. */
const expectAlike = (record: ReturnType<typeof flown>, before: Flown): number => {
  expect(record.ending.kind).toBe('finished')
  const off = Object.entries(before.columns).filter(([name, values]) => {
    const now = findColumn(record, nowCalled(name))
    const most = 1e-9 + 1e-8 * before.sizes[name]!
    return now?.length !== before.rows || !values.every((value, i) => Math.abs(value - now[before.picked[i]!]!) < most)
  })
  expect(off.map(([name]) => name)).toEqual([])
  return Object.values(before.sizes).filter((size) => size > 1e-3).length
}
/** c b, c a b, c a² b, ...: all there is to know of a linear form. */
const stepsOf = ({ a, b, c, inputs, outputs }: StateSpace, axis: string) => {
  let column = b.map((row) => [row[inputs.indexOf(`pushes.${axis}`)]!])
  return Array.from({ length: 8 }, () => {
    const shown = multiply(c, column).map(([value]) => value!)
    column = multiply(a, column)
    return readings.map((name) => shown[outputs.indexOf(name)]!)
  })
}
const expectSteps = (system: StateSpace, before: Steps, relative: number) => {
  for (const axis of axes)
    stepsOf(system, axis).forEach((row, k) => {
      const was = before[axis]![k]!
      const size = Math.max(...was.map(Math.abs))
      expect(row, `${axis} ${k}`).toBeNear(was, { absolute: relative * size + 1e-12 })
      if (k > 1) expect(size).toBeGreaterThan(1)
    })
}
const layers = new Set<AnyLayer>(['driveDynamics', 'air'])

describe.each(names)('%s, which was a lifter of its own kind', (name) => {
  const before = records.documents[name]
  const machine = resolvedOf(written(name)).machines.lamplighter!
  const linear = expectDone(linearMachine(machine, layers))

  it('is bodies on joints, with nothing odd', () => {
    const { document, cautions } = expectDone(checkDocument(written(name)))
    expect(cautions).toEqual([])
    expect(document.machines.lamplighter!.kind).toBe('mechanism')
    expect(document.version).toBeGreaterThan(4)
  })

  it('hovers by the same pushes and answers every one alike', () => {
    const { pushes } = linear.operatingPoint
    expect(axes.map((axis) => pushes[`pushes.${axis}`]!)).toBeNear(before.hover, { absolute: 1e-9 })
    expectSteps(linear.system, before.steps, 1e-9)
  })

  it('has the same height filter in its margins', () => {
    const [filter] = linearEstimators(resolvedOf(written(name)), 'lamplighter')
    expect(filter!.system).toEqual(before.filter.system)
    expect(filter!.estimated).toEqual(before.filter.estimated.map((quantity) => readingOf[quantity]))
    expect(filter!.reads).toEqual([readingOf.height, `${rateOfPrefix}${readingOf.climbRate!}`])
  })

  it('asks the same pushes for a motion, its equations turned round', () => {
    const high = resolvedOf(plain(name)).machines.lamplighter!
    const point = expectDone(linearMachine(high, designLayers.all)).operatingPoint
    const asked = ['height', 'roll', 'pitch', 'heading'].map((one, i) => ({ holds: readingOf[one]!, push: `pushes.${axes[i]!}` }))
    expect(inverseProblem(high, point, asked)).toBeUndefined()
    for (const { motions, pushes } of before.inverse) {
      const moving = asked.map((one, i) => ({ ...one, motion: motions[i]! }))
      expect(inversePushes(high, numbersOf(high), point, moving) as number[]).toBeNear(pushes, { absolute: 1e-9 * 40 })
      expect(Math.max(...pushes.slice(1).map(Math.abs))).toBeGreaterThan(0.01)
    }
  })

  it('spreads pushes over its rotors alike, plainly and within their limits', () => {
    const limited = resolvedOf(replaceAt(written(name), 'machines.lamplighter.rotors.allocation', 'leastSquares'))
    for (const [one, kind] of [
      [machine, 'mixed'],
      [limited.machines.lamplighter!, 'within'],
    ] as const)
      for (const { asked, ...was } of before.allocation) {
        const given = spread(one, numbersOf(one), (push) => asked[axes.indexOf(push.replace('pushes.', ''))]!, true)
        const now = was[kind].map((_, i) => given.get(`drives.rotor${i + 1}`) as number)
        // at limits what all give leaves which rotor gives it open to a millionth of the weights
        expect(now).toBeNear(was[kind], kind === 'within' ? { absolute: 0.01 } : { relative: 1e-12 })
      }
  })

  it('has the same gains and margins in every loop', () => {
    const document = resolvedOf(plain(name))
    expect(Object.keys(document.loops)).toEqual(Object.keys(before.loops))
    for (const [loop, was] of Object.entries(before.loops)) {
      const { model, gains } = expectDone(designLoop(document, loop))
      const { crossover, phaseMargin, stable } = analyse(model, gains)
      expect(Object.values(gains), loop).toBeNear(was.gains, { relative: 1e-7, absolute: 1e-9 })
      expect([crossover, phaseMargin], loop).toBeNear([was.crossover, was.phaseMargin], { relative: 1e-7 })
      expect(stable).toBe(was.stable)
    }
  })

  it.each(Object.keys(before.trials))('flies %s alike', (trial) => {
    expect(expectAlike(flown(plain(name), trial), before.trials[trial]!)).toBeGreaterThan(1)
  })
})

it('flies steadily alike: lean, pushes and answers to every push', () => {
  const { heading, velocity, held, pushes, steps } = records.flight
  const machine = resolvedOf(written('lamplighter')).machines.lamplighter!
  const fixed = ['heading', 'eastRate', 'northRate', 'climbRate'].map((name, i) => [
    `keeps${i}`,
    { kind: 'condition', signal: readingOf[name]!, value: [heading, ...velocity][i]! },
  ])
  const running = ['x', 'y', 'z'].map((axis) => [`runs${axis}`, { kind: 'runsOn', signal: `hull.${axis}` }])
  const flying = { ...machine, conditions: Object.fromEntries([...fixed, ...running]) }
  const { operatingPoint, system } = expectDone(linearMachine(flying, layers))
  for (const name of ['roll', 'pitch', 'heading', 'eastRate', 'climbRate'])
    expect(operatingPoint.held[readingOf[name]!], name).toBeNear(held[name]!, { absolute: 1e-9 })
  for (const axis of axes) expect(operatingPoint.pushes[`pushes.${axis}`], axis).toBeNear(pushes[axis]!, { absolute: 1e-8 })
  expectSteps(system, steps, 1e-8)
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

/** Gains as they were, when loops were designed as if they read what is true. */
const asThen = (loop: string): Part => {
  const [kp, ki, kd] = records.documents['lamplighter-cascade'].loops[loop]!.gains
  return { kind: 'typedGains', kp, ki, kd }
}

/** Loops that read what is estimated; with a drift of the gyroscope, but without noise. */
const estimating = (wanted: readonly (keyof typeof estimators)[], drift: number): Document => {
  const base = plain('lamplighter-cascade')
  const silent = drift === 0 ? {} : { gyroNoise: 0, accelerometerNoise: 0, attitudeNoise: 0 }
  const { sounder, inertial } = base.machines.lamplighter!.sensors as unknown as Record<string, Part>
  const sensors = {
    // the ground is far, so that rotors do not feel it: the range finder looks as far
    sounder: { ...sounder, most: 2e5, ...(drift === 0 ? {} : { noise: 0 }) },
    inertial: { ...inertial, gyroDrift: drift, ...silent },
    fixes: { kind: 'positionFixes', rate: 5, noise: drift === 0 ? 0.4 : 0 },
  }
  const realism = (trial: TrialPart) => ({ ...trial.realism, estimator: true, sensorNoise: drift !== 0 })
  return {
    ...replaceAt<Document>(base, 'machines.lamplighter.sensors', sensors),
    estimators: Object.fromEntries(wanted.map((name) => [name, estimators[name]])),
    loops: loopsOf(base, (loop, name) => ({ ...loop, reads: 'estimated', tuning: asThen(name) })),
    trials: trialsOf(base, (trial) => ({ ...trial, realism: realism(trial) })),
  }
}

it.each(records.estimates)('estimates by $wanted with a drift of $drift rad/s, and flies on it, alike', (before) => {
  const document = estimating(before.wanted, before.drift)
  const [trial] = Object.keys(document.trials) as [string]
  expect(expectAlike(flown(document, trial), before)).toBeGreaterThan(12)
  const estimates = Object.keys(before.columns).filter((name) => name.endsWith('.estimate'))
  expect(estimates.length).toBeGreaterThan(before.wanted.length)
})

it('flies alike with its equations turned round as feedforward', () => {
  const equations = { own: { kind: 'inverseDynamics', on: true, scale: 1 } }
  const base = plain('lamplighter')
  const ahead = { ...base, loops: loopsOf(base, (loop, name) => (/^hei|^hea/.test(name) ? { ...loop, feedforwards: equations } : loop)) } // prettier-ignore
  const swings = { swing: { kind: 'sineCue', loop: 'height', at: 0.5, over: 3, by: 0.4, frequency: 3 } }
  expectAlike(flown(replaceAt<Document>(ahead, 'trials.galleryRise.cues', swings), 'galleryRise'), records.turnedRound)
  expect(records.turnedRound.sizes['lamplighter.climbRate']).toBeGreaterThan(0.2)
})

it('leaves records of then as they are seen, under the names of now', () => {
  const before = [
    'm.east',
    'm.eastRate',
    'm.attitude.w',
    'm.height.estimate',
    'm.rotor3.speed',
    'm.sounder.range',
    'loops.height.command',
    'n.east',
  ]
  expect(columnsNow(before)).toEqual([
    'm.readings.place.east',
    'm.readings.place.eastRate',
    'm.attitude.w',
    'm.readings.place.height.estimate',
    'm.drives.rotor3.speed',
    'm.sounder.range',
    'loops.height.command',
    // no lifter: its own state of that name
    'n.east',
  ])
  const now = ['m.hull.x', 'm.readings.place.east', 'm.drives.rotor3.speed']
  expect(columnsNow(now)).toEqual(now)
})

describe('a document with lifters', () => {
  const change = (parameter: string, how: 'times' | 'set', amount: number) => ({ kind: 'override', parameter, how, amount })
  const at = 'machines.lamplighter'
  const migrated = (changes: Readonly<Record<string, unknown>>) => {
    const own = Object.entries(changes).reduce(
      (next, [path, value]) => replaceAt<Document>(next, path, value),
      written('lamplighter'),
    )
    const next = expectDone(migrate(own as unknown as Record<string, unknown>))
    return (path: string) => findAt(next, path)
  }

  it('keeps formulas, and follows in laws, cues, watched signals, pinned designs and noise', () => {
    const of = migrated({
      parameters: { span: { kind: 'parameter', value: 0.72, unit: 'm' }, armLength: { kind: 'parameter', value: 1, unit: 'm' } },
      [`${at}.rotors.armLength`]: '= span / 2',
      [`${at}.bodies.crate.mass`]: '= 0.28 * armLength',
      'trials.galleryRise.cues.push': { kind: 'stepCue', loop: 'pushes.lift', at: 2, by: 1 },
      'trials.galleryRise.watch': {
        first: { kind: 'watched', signal: 'lamplighter.climbRate.estimate' },
        second: { kind: 'watched', signal: 'lamplighter.rotor3.thrust' },
      },
      'trials.galleryRise.overrides': {
        noise: change('sensors.inertial.gyroNoise', 'set', 0.01),
        counts: change('rotors.tiltCounts', 'times', 2),
        aside: change('bodies.battery.at.1', 'set', 0.01),
        thrust: change('rotors.thrustCoefficient', 'times', 0.9),
        own: change('parameters.span', 'times', 1.1),
        load: change('load', 'set', 0.1),
        drag: change('drag', 'times', 3),
      },
      'tray.A': { title: '', trial: 'galleryRise', run: 'ab', loops: { height: written('lamplighter').loops.height } },
    })
    expect(of('parameters.armLength')).toMatchObject({ value: 1 })
    expect(of('parameters.lamplighterArmLength')).toMatchObject({ value: '= span / 2' })
    expect(of(`${at}.drives.rotor2.at.1`)).toBe('= sin(3 * pi / 6) * lamplighterArmLength')
    expect(of(`${at}.readings.place.at.2`)).toMatch(/^= .*0\.28 \* armLength/)
    expect(of('trials.galleryRise.cues.push.loop')).toBe('pushes.pushes.lift')
    expect(of('trials.galleryRise.watch.first.signal')).toBe('lamplighter.readings.place.climbRate.estimate')
    expect(of('trials.galleryRise.watch.second.signal')).toBe('lamplighter.drives.rotor3.thrust')
    expect(of('trials.galleryRise.overrides')).toEqual({
      noise: change('sensors.inertial.gyroNoise', 'set', 0.01 * Math.sqrt(2 / 200)),
      aside: change('bodies.battery.centre.1', 'set', 0.01),
      thrust: change('parameters.thrustCoefficient', 'times', 0.9),
      own: change('parameters.span', 'times', 1.1),
      load: change('parameters.load', 'set', 0.1),
      drag: change('forces.drag.linear', 'times', 3),
    })
    expect(of('tray.A.loops.height')).toMatchObject({ holds: 'readings.place.height', pushes: 'pushes.lift' })
  })

  it('reads as true what was read so without a word, since nothing measures it', () => {
    const reads = (changes: Readonly<Record<string, unknown>>, loop: string) => migrated(changes)(`loops.${loop}.reads`)
    expect(reads({}, 'height')).toBe('estimated')
    expect(reads({}, 'heading')).toBe('measured')
    expect(reads({ estimators: {} }, 'height')).toBe('true')
    expect(reads({ 'loops.height.reads': 'measured' }, 'height')).toBe('true')
    expect(reads({ 'loops.east.reads': 'measured' }, 'east')).toBe('true')
    const fixes = { [`${at}.sensors.fixes`]: { kind: 'positionFixes', rate: 5, noise: 0.4 }, 'loops.east.reads': 'measured' }
    expect(reads(fixes, 'east')).toBe('measured')
    // its rate is measured by nothing
    expect(reads({ ...fixes, 'loops.east.law': { kind: 'pdOnRate' } }, 'east')).toBe('true')
  })

  it('is left for the schema where a lifter is none that could fly', () => {
    for (const [path, value] of [
      ['bodies', {}],
      ['rotors', 3],
      ['rotors.count', 'six'],
      ['bodies.hull.at', 'here'],
    ] as const) {
      const outcome = checkDocument(replaceAt(written('lamplighter'), `${at}.${path}`, value))
      expect(outcome.kind === 'refused' && outcome.problems[0]!.where).toBe(`${at}.kind`)
    }
  })
})
