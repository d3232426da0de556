// Accounts that are known by construction, against closed forms and shares over all orders by hand.
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { compile, findColumn, predictWatched, start } from '../simulation'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { gapAccount, gapPlan, gapRuns } from './gap'
import type { GapAccount, GapPlan, GapRun } from './gap'

/** A sled of 2 kg on a rail along x, with a drive whose limit nothing reaches; no gravity. */
const sled = (more: Values = {}) =>
  mechanismPart(
    { sled: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0], start: 0 })) },
    { gravity: 0, drives: { motor: { kind: 'effortDrive', joint: 'sled.travel', most: 1000 } }, ...more },
  )
const holding = { holds: 'sled.travel', pushes: 'drives.motor', law: { kind: 'pdOnRate' } }
const open = { ...holding, tuning: { kind: 'typedGains', kp: 0, ki: 0, kd: 0 } }
const closed = { ...holding, tuning: { kind: 'typedGains', kp: 18, ki: 0, kd: 12 } }
const push = (x: number) => ({ kind: 'pushCue', body: 'sled', at: 0, over: 2, x, y: 0, z: 0 })

function resolved(machine: object, loop: Values, trial: Values): Document {
  const document = oneMachine(machine as never, { hold: loop }, { after: 2, step: 0.005, ...trial })
  return expectDone(checkDocument(document)).resolved
}

interface Accounted {
  readonly plan: GapPlan
  readonly runs: readonly GapRun[]
  readonly of: (signal: string, from?: number, to?: number) => GapAccount
  readonly share: (signal: string) => Readonly<Record<string, number>>
}

function accounted(document: Document, trial = 'run'): Accounted {
  const plan = expectDone(gapPlan(document, trial, []))
  const runs = expectDone(gapRuns(document, trial, [], plan.coalitions))
  const of = (signal: string, from = 0, to = plan.time.at(-1)!) => expectDone(gapAccount(plan, runs, signal, from, to))
  return { plan, runs, of, share: (signal) => Object.fromEntries(of(signal).shares.map((one) => [one.cause, one.share])) }
}

/** Every order of some things. */
function orders<T>(of: readonly T[]): T[][] {
  return of.length === 0 ? [[]] : of.flatMap((one) => orders(of.filter((other) => other !== one)).map((rest) => [one, ...rest]))
}

describe('an account that is known by construction', () => {
  const forces = { add1: 2, add2: 1, cancel1: 1.5, cancel2: -1.5 }
  const cues = Object.fromEntries(Object.entries(forces).map(([name, force]) => [name, push(force)]))
  const document = resolved(sled(), open, { cues, realism: realismWith(['sampling', 'driveLimits']) })
  const account = accounted(document)
  // while they push
  const found = account.of('m.sled.travel', 0, 2)
  const shareOf = (cause: string) => found.shares.find((one) => one.cause === cause)!.share
  // x = F t²/2m: rms over 0..T is F T²/(2m sqrt(5)), by hand
  const unit = 2 ** 2 / (2 * 2 * Math.sqrt(5))

  it('tells the whole gap by its closed form', () => {
    // 1500 instants in place of an integral
    expect(found.whole).toBeNear(3 * unit, { relative: 0.002 })
    expect(found.left).toBeLessThan(1e-12)
  })

  it('gives those that add theirs, those that cancel what order averages leave, and those that do nothing nothing', () => {
    const names = Object.keys(forces) as (keyof typeof forces)[]
    const gap = (present: readonly (keyof typeof forces)[]) => Math.abs(present.reduce((sum, one) => sum + forces[one], 0))
    const all = orders(names)
    for (const name of names) {
      const share = all.reduce((sum, order) => {
        const before = order.slice(0, order.indexOf(name))
        return sum + gap([...before, name]) - gap(before)
      }, 0)
      expect(shareOf(`cues.${name}`)).toBeNear((share / all.length / 3) * found.whole, { absolute: 1e-9 })
    }
    expect(shareOf('driveLimits')).toBe(0)
    expect(shareOf('nonlinearity')).toBeNear(0, { absolute: 1e-12 })
  })

  it('adds up to the whole, names the pair that cancels and keeps to its window', () => {
    expect(found.shares.reduce((sum, { share }) => sum + share, found.left)).toBeNear(found.whole, { relative: 1e-12 })
    const cancelling = found.pairs.find(({ causes }) => causes.join() === 'cues.cancel1,cues.cancel2')
    expect(cancelling!.interaction).toBeLessThan(0)
    const sizes = found.pairs.map(({ interaction }) => Math.abs(interaction))
    expect(sizes).toEqual([...sizes].sort((a, b) => b - a))
    const early = account.of('m.sled.travel', 0, 1)
    expect(early.whole).toBeNear((3 * unit) / 4, { relative: 0.004 }) // T² in place of 4
  })

  it('has as its whole what the run itself and the prediction differ by', () => {
    const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
    const predicted = predictWatched(document, 'run', ['sled.travel'])!
    const column = findColumn(record, 'm.sled.travel')!
    const end = predicted.values['sled.travel']!.at(-1)!
    const whole = account.runs.find(({ coalition }) => coalition === 2 ** account.plan.causes.length - 1)!
    const at = account.plan.signals.findIndex(({ name }) => name === 'm.sled.travel')
    expect(whole.differences[at]!.at(-1)).toBe(column.at(-1)! - end)
  })
})

describe('what has its share', () => {
  it('is a limit of a command, where only that is between them', () => {
    const cues = { step: { kind: 'stepCue', loop: 'hold', at: 0.2, by: 1 } }
    const limited = resolved(
      sled(),
      { ...closed, least: -2, most: 2 },
      { cues, realism: realismWith(['sampling', 'driveLimits']) },
    )
    const { of, share } = accounted(limited)
    const { whole, left } = of('m.sled.travel')
    expect(whole).toBeGreaterThan(0.05)
    expect(left).toBeLessThan(1e-12)
    expect(share('m.sled.travel').lawLimits).toBeNear(whole, { relative: 1e-9 })
  })

  it('is a drive limit, where the machine is linear and full alike', () => {
    const weak = sled({ drives: { motor: { kind: 'effortDrive', joint: 'sled.travel', most: 2 } } })
    const cues = { step: { kind: 'stepCue', loop: 'hold', at: 0.2, by: 1 } }
    const { of, share } = accounted(resolved(weak, closed, { cues, realism: realismWith(['sampling', 'driveLimits']) }))
    expect(share('m.sled.travel').driveLimits).toBeNear(of('m.sled.travel').whole, { relative: 1e-9 })
  })

  it('is a number that only the trial changes', () => {
    const cues = { step: { kind: 'stepCue', loop: 'hold', at: 0.2, by: 1 } }
    const overrides = { heavy: { kind: 'override', parameter: 'bodies.sled.mass', how: 'times', amount: 1.5 } }
    const { of, share } = accounted(resolved(sled(), closed, { cues, overrides, realism: realismWith(['sampling']) }))
    expect(of('m.sled.travel').whole).toBeGreaterThan(0.01)
    expect(share('m.sled.travel').overrides).toBeNear(of('m.sled.travel').whole, { relative: 1e-9 })
  })

  it('is nonlinearity, where a pendulum swings wide', () => {
    const pendulum = mechanismPart(
      { rod: bodyPart(1, [0, 0, -1], [0, 0, 0], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 1, 0], start: 0 })) },
      { drives: { motor: { kind: 'effortDrive', joint: 'rod.angle', most: 1000 } } },
    )
    const loop = { holds: 'rod.angle', pushes: 'drives.motor', law: { kind: 'pdOnRate' }, tuning: { kind: 'typedGains', kp: 30, ki: 0, kd: 8 } } // prettier-ignore
    const cues = { step: { kind: 'stepCue', loop: 'hold', at: 0.2, by: 2 } }
    const { of, share } = accounted(resolved(pendulum, loop, { cues, realism: realismWith(['sampling']) }))
    const { whole, left } = of('m.rod.angle')
    expect(whole).toBeGreaterThan(0.05)
    expect(left).toBeLessThan(1e-9) // steps of a run with a measured error
    expect(share('m.rod.angle').nonlinearity).toBeNear(whole, { relative: 1e-8 })
  })
})

/** Demo machines, of which the simulation without any cause must be the prediction. */
function demo(name: string): Document {
  const text = readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')
  return expectDone(checkDocument(JSON.parse(text))).resolved
}

describe('without any cause', () => {
  it.each([
    ['lens-float', 'smallLift', ['lensFloat.lens.travel', 'loops.gap.command'], 1e-9],
    ['lamplighter', 'galleryRise', ['lamplighter.readings.attitude.heading', 'lamplighter.readings.place.north'], 1e-12],
    // its complementary filter turns readings by the attitude, which is no linear form: 2e-4 of the rise at most
    ['lamplighter', 'galleryRise', ['lamplighter.readings.place.height'], 5e-4],
  ] as const)('%s in %s moves as predicted: %s', (name, trial, signals, tolerance) => {
    const document = demo(name)
    const plan = expectDone(gapPlan(document, trial, []))
    const [none] = expectDone(gapRuns(document, trial, [], [0]))
    for (const signal of signals) {
      const at = plan.signals.findIndex((one) => one.name === signal)
      expect(Math.max(...none!.differences[at]!.map(Math.abs))).toBeLessThan(tolerance)
    }
  })
})

describe('what cannot be accounted for', () => {
  const document = resolved(sled(), closed, { cues: { push: push(2) }, realism: realismWith(['sampling']) })
  const plan = expectDone(gapPlan(document, 'run', []))
  const runs = expectDone(gapRuns(document, 'run', [], plan.coalitions))

  it('is a signal without prediction: those that have one are told', () => {
    const outcome = gapAccount(plan, runs, 'm.nothing', 0, 1)
    expect(outcome).toMatchObject({ kind: 'refused', problems: [{ where: 'signal' }] })
    expect(JSON.stringify(outcome)).toContain('m.sled.travel')
  })

  it('is a window outside the run', () => {
    expect(gapAccount(plan, runs, 'm.sled.travel', 5, 9)).toMatchObject({ kind: 'refused', problems: [{ where: 'window' }] })
  })

  it('is a signal that does not differ: the whole is 0, and so are all portions', () => {
    const still = resolved(sled(), closed, { realism: realismWith(['sampling']) })
    const { whole, shares } = accounted(still).of('m.sled.travel')
    expect(whole).toBe(0)
    expect(shares.every(({ portion }) => portion === 0)).toBe(true)
  })

  it('is a coalition that runs away: who is missing, and when, is told', () => {
    // held up by its limits alone: with another sign of the gain the bounded command cannot throw it far in 2 s
    const away = resolved(sled(), { ...holding, least: -1, most: 1, tuning: { kind: 'typedGains', kp: -4e5, ki: 0, kd: 0 } }, {
      cues: { push: push(2) },
      realism: realismWith(['sampling']),
    }) // prettier-ignore
    const awayPlan = expectDone(gapPlan(away, 'run', []))
    const awayRuns = expectDone(gapRuns(away, 'run', [], awayPlan.coalitions))
    const outcome = gapAccount(awayPlan, awayRuns, 'm.sled.travel', 0, 2)
    expect(outcome).toMatchObject({ kind: 'refused', problems: [{ where: 'window' }] })
    expect(JSON.stringify(outcome)).toContain('Limits of commands')
    // the remedy helps: before that there is an account
    expect(gapAccount(awayPlan, awayRuns, 'm.sled.travel', 0, 0.02).kind).toBe('done')
  })
})

it('a linear machine with limited drives is limited before it follows its slopes, and does not run away', () => {
  // thrust goes with the square of what a rotor is asked: limited behind that it would turn over
  const document = demo('lamplighter')
  const { causes } = expectDone(gapPlan(document, 'galleryRise', []))
  const without = ['nonlinearity', 'lawLimits'].reduce(
    (mask, name) => mask | (1 << causes.findIndex((one) => one.name === name)),
    0,
  )
  const [run] = expectDone(gapRuns(document, 'galleryRise', [], [(2 ** causes.length - 1) & ~without]))
  expect(run!.ending.kind).toBe('finished')
})
