import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { withNewName } from '../rename'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { designPoint, linearMachine } from '../control'
import { designLayers } from '../machine'
import { compile, findColumn, predictWatched, start } from '../simulation'
import { expectDone } from '../tests/expectDone'
import { designLoop } from './index'

const file = join(import.meta.dirname, '../../starters/sled.json')
const sled = JSON.parse(readFileSync(file, 'utf8')) as Document
const at = 'machines.sled'
const changed = (changes: readonly (readonly [string, unknown])[]) =>
  changes.reduce((next, [path, value]) => replaceAt<Document>(next, path, value), sled)
const resolved = (document: Document) => expectDone(checkDocument(document)).resolved
const problems = (document: Document) => {
  const outcome = checkDocument(document)
  return outcome.kind === 'refused' ? outcome.problems : []
}

const slow = {
  kind: 'operatingPoint',
  conditions: {
    speed: { kind: 'condition', signal: 'readings.own.ahead', value: 2 },
    east: { kind: 'runsOn', signal: 'sled.x' },
  },
}
const twoPoints = changed([[`${at}.points`, { slow }]])

describe('operating points by name', () => {
  it('are where a loop is designed that says so; what carries the machine stays that of where it works', () => {
    const usual = expectDone(designLoop(resolved(twoPoints), 'speed'))
    const about = expectDone(designLoop(resolved(replaceAt(twoPoints, 'loops.speed.point', 'points.slow')), 'speed'))
    const working = resolved(replaceAt(twoPoints, `${at}.worksAt`, 'points.slow'))
    const there = expectDone(designLoop(working, 'speed'))
    // a fan that turns slowly gives less for each turn more: the push asks for thrust, so the machine is the same but for its lags
    expect(about.gains).toEqual(there.gains)
    expect([about.nominalPush, about.nominalHeld]).toEqual([usual.nominalPush, usual.nominalHeld])
    expect(there.nominalHeld).toBeNear(2, { relative: 1e-9 })
    expect(there.nominalPush).toBeNear(usual.nominalPush / 3, { relative: 1e-9 }) // runners resist in proportion
  })

  it('are where the machine works, and its trials start, when it says so', () => {
    const working = resolved(replaceAt(twoPoints, `${at}.worksAt`, 'points.slow'))
    const record = start(expectDone(compile(working, 'bend'))).run({ trial: 'bend', layers: [], seed: 1 })
    expect(findColumn(record, 'sled.readings.own.ahead')![0]).toBeNear(2, { relative: 1e-9 })
  })

  it('keep their names in what says them', () => {
    const named = changed([
      [`${at}.points`, { slow }],
      [`${at}.worksAt`, 'points.slow'],
      ['loops.heading.point', 'points.slow'],
    ])
    const { document } = withNewName(named, `${at}.points.slow`, 'Harbour pace')
    expect(document.machines.sled!.worksAt).toBe('points.harbourPace')
    expect(document.loops.heading!.point).toBe('points.harbourPace')
    expect(problems(document)).toEqual([])
    const body = withNewName(named, `${at}.bodies.sled`, 'Raft').document
    expect(JSON.stringify(body.machines.sled!.points)).toContain('raft.x')
    expect(problems(body)).toEqual([])
  })

  it('that are not there, or say what is not there, are told where', () => {
    expect(problems(changed([[`${at}.worksAt`, 'points.slow']]))).toMatchObject([
      { where: `${at}.worksAt`, what: /no operating point named points.slow/ },
    ])
    expect(problems(replaceAt(twoPoints, 'loops.speed.point', 'points.slwo'))).toMatchObject([
      { where: 'loops.speed.point', remedy: 'Did you mean points.slow?' },
    ])
    const wrong = replaceAt(twoPoints, `${at}.points.slow.conditions.east.signal`, 'sled.ahead')
    expect(problems(wrong)).toMatchObject([{ where: `${at}.points.slow.conditions.east.signal`, what: /could run on/ }])
    const twice = replaceAt(twoPoints, `${at}.points.slow.conditions.again`, slow.conditions.east)
    expect(problems(twice)).toMatchObject([{ where: `${at}.points.slow.conditions.again.signal`, what: 'sled.x runs on twice.' }])
  })
})

describe('a fan that stands', () => {
  const still = changed([[`${at}.conditions`, undefined]])

  it('has no slope: nothing pushes by it, and nothing is estimated by it', () => {
    const known = resolved({ ...changed([[`${at}.conditions`, undefined], ['estimators', {}], ['loops.speed.reads', 'true'], ['loops.heading.reads', 'true']]) }) // prettier-ignore
    const outcome = designLoop(known, 'speed')
    expect(outcome.kind === 'refused' && outcome.problems[0]).toMatchObject({
      where: 'loops.speed.pushes',
      what: /fan stands at the operating point/,
      remedy: /^Let the machine work where it turns/,
    })
    expect(problems(still)).toMatchObject([{ where: 'estimators.observer', what: /stands at the operating point/ }])
    const point = expectDone(designPoint(known.machines.sled!))
    expect(point.standing).toEqual({
      'pushes.thrust': ['drives.leftFan', 'drives.rightFan'],
      'pushes.turning': ['drives.leftFan', 'drives.rightFan'],
    })
    expect(point.sharing).toEqual([])
  })

  it('is none once it turns', () => {
    expect(expectDone(designPoint(resolved(sled).machines.sled!)).standing).toEqual({})
  })
})

describe('what runs on', () => {
  it('is held by no loop, whose speed is', () => {
    const held = changed([
      ['loops.speed.holds', 'readings.place.east'],
      ['loops.speed.reads', 'true'],
    ])
    const outcome = designLoop(resolved(held), 'speed')
    expect(outcome.kind === 'refused' && outcome.problems[0]).toMatchObject({
      where: 'loops.speed.holds',
      what: /runs on at 6 m\/s/,
      remedy: /^Hold eastward speed/,
    })
  })

  it('is read by no observer', () => {
    const reading = { kind: 'observedSignal', signal: 'readings.place.east', noise: 0.1 }
    expect(problems(changed([['estimators.observer.reads.east', reading]]))).toMatchObject([
      { where: 'estimators.observer.reads', what: /runs on where the machine works/ },
    ])
  })

  it('is predicted where it will be', () => {
    const quiet = resolved(changed([['trials.bend.realism.sensorErrors', false]]))
    const record = start(expectDone(compile(quiet, 'bend'))).run({ trial: 'bend', layers: [], seed: 1 })
    const { t, values } = predictWatched(quiet, 'bend', ['readings.place.east'])!
    const simulated = findColumn(record, 'sled.readings.place.east')!
    // before it bends
    const until = t.findIndex((one) => one > 6.5)
    for (const k of [0, Math.floor(until / 2), until]) {
      const i = record.time.findIndex((one) => one >= t[k]! - 1e-9)
      expect(values['readings.place.east']![k]).toBeNear(simulated[i]!, { absolute: 0.05 })
    }
    expect(expectDone(linearMachine(quiet.machines.sled!, designLayers.all)).operatingPoint.runs).toEqual({
      'sled.x': 6,
      'readings.place.east': 6,
    })
  })
})
