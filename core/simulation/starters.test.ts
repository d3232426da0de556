import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { estimators } from '../control'
import { replaceAt } from '../document'
import type { Document, Part } from '../document'
import { findKind } from '../kinds'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart } from '../tests/parts'
import { analyse, designLoop, togetherFigures } from '../tuning'
import { compile, limitsHit, start, trialFigures } from './index'

/** Machines to start from that hold themselves: what they hold is read from their own sensors, through an estimator. */
const starters = ['multirotor', 'satellite', 'sled', 'two-wheeled-carrier']

describe.each(starters)('the starter %s', (name) => {
  const file = join(import.meta.dirname, '../../starters', `${name}.json`)
  const { resolved, cautions } = expectDone(checkDocument(JSON.parse(readFileSync(file, 'utf8'))))
  const [machine] = Object.keys(resolved.machines) as [string]
  const [trial] = Object.keys(resolved.trials) as [string]

  it('reads nothing but what is estimated from its sensors', () => {
    expect(cautions).toEqual([])
    expect(Object.values(resolved.loops).map(({ reads }) => reads)).toEqual(Object.keys(resolved.loops).map(() => 'estimated'))
    const estimated = Object.values(resolved.estimators).flatMap((part) =>
      findKind(estimators, part)!.estimates(resolved.machines[machine]!, part),
    )
    for (const { holds } of Object.values(resolved.loops)) if (!/tilt/.test(holds)) expect(estimated).toContain(holds)
  })

  it('is stable in every loop, and in all of them together with what they estimate', () => {
    for (const loop of Object.keys(resolved.loops)) {
      const { model, gains } = expectDone(designLoop(resolved, loop))
      const { stable, phaseMargin } = analyse(model, gains)
      expect([loop, stable, phaseMargin! > 0.7]).toEqual([loop, true, true])
    }
    const together = expectDone(togetherFigures(resolved, machine, 'commands'))
    expect(together.stable).toBe(true)
    expect(Math.min(...together.channels.map(({ phaseMargin }) => phaseMargin ?? Infinity))).toBeGreaterThan(0.6)
  })

  it('goes where its cues say as the linear machine predicts, noise and all', () => {
    const record = start(expectDone(compile(resolved, trial))).run({ trial, layers: [], seed: 1 })
    expect(record.ending.kind).toBe('finished')
    expect(limitsHit(resolved, record)).toEqual([])
    const cued = Object.values(resolved.trials[trial]!.cues)
    for (const { loop = '', by } of cued) {
      const { simulated, predicted } = trialFigures(resolved, trial, record)[loop]!
      expect([loop, Math.abs(simulated!.steadyError!) < 0.06 * Math.abs(Number(by))]).toEqual([loop, true])
      expect([loop, Math.abs(simulated!.worst / predicted!.worst - 1) < 0.1]).toEqual([loop, true])
    }
  })
})

describe('estimators of a body that cannot work', () => {
  const multirotor = JSON.parse(readFileSync(join(import.meta.dirname, '../../starters/multirotor.json'), 'utf8')) as Document
  const at = 'machines.multirotor'
  const told = (changes: readonly (readonly [string, unknown])[]) => {
    const outcome = checkDocument(changes.reduce((next, [path, value]) => replaceAt<Document>(next, path, value), multirotor))
    return outcome.kind === 'refused' ? outcome.problems : []
  }
  const readings = (machineOf: Document) => machineOf.machines.multirotor!.readings as unknown as Record<string, Part>

  it('say which reading is missing, and where their sensors must sit', () => {
    const { attitude } = readings(multirotor)
    const missing = told([[`${at}.readings`, { attitude }]])
    expect(missing.filter(({ where }) => where === 'estimators.pose.inertial')).toMatchObject([
      {
        what: expect.stringMatching(/the place of hull at 0, 0, 0 m/),
        remedy: expect.stringMatching(/^Add a reading: the place of hull/),
      },
    ])
    const moved = told([[`${at}.sensors.inertial.at`, [0.1, 0, 0]]])
    expect(moved.map(({ where }) => where)).toContain('estimators.heightFilter.inertial')
    expect(moved.find(({ where }) => where === 'loops.height.reads')!.what).toMatch(/nothing estimates height/)
  })

  it('say that sensors of two bodies cannot be read as one', () => {
    const mast = {
      ...bodyPart(0.1, [0, 0, 0], [1e-4, 1e-4, 1e-4], jointPart('turning', 'hull', [0, 0, 0.1], { axis: [0, 0, 1], start: 0 })),
    }
    const apart = told([
      [`${at}.bodies.mast`, mast],
      [`${at}.sensors.fixes.body`, 'mast'],
    ])
    expect(apart.find(({ where }) => where === 'estimators.pose.fixes')).toMatchObject({
      what: 'This sensor sits on mast, the inertial sensor on hull.',
    })
  })

  it('name a sensor that is not there, of another sort, and those that would do', () => {
    const gone = told([
      ['estimators.pose.inertial', 'gone'],
      ['estimators.heightFilter.inertial', 'sounder'],
    ])
    expect(gone.filter(({ where }) => where.startsWith('estimators'))).toMatchObject([
      { where: 'estimators.pose.inertial', what: 'There is no inertial unit named gone.' },
      { where: 'estimators.heightFilter.inertial', what: 'There is no inertial unit named sounder.' },
    ])
    expect(told([['estimators.pose.fixes', 'sounder']])).toMatchObject([
      { where: 'estimators.pose.fixes', what: 'There is no position fix named sounder.', remedy: 'Known: fixes.' },
    ])
  })
})
