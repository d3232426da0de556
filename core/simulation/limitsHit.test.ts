import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document, Part } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import { lamplighter } from '../tests/demo'
import { bodyPart, jointPart, mechanismPart, typedPart } from '../tests/parts'
import { compile, limitsHit, signalValues, signalsOf, start } from './index'

const flown = (document: Document) => {
  const checked = expectDone(checkDocument(document)).resolved
  const record = start(expectDone(compile(checked, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  return { document: checked, record, hits: limitsHit(checked, record) }
}

const arm = (forces: Part | object) =>
  mechanismPart(
    { arm: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, 1, 0] })) },
    { drives: { motor: { kind: 'effortDrive', joint: 'arm.angle', most: 3 } }, forces },
  )
const shove = (by: number) => ({ shove: { kind: 'stepCue', loop: 'pushes.drives.motor', at: 1, by } })

describe('what limited a run', () => {
  it('is nothing where nothing did: a push that is asked turns the arm by torque over inertia', () => {
    const { record, hits, document } = flown(oneMachine(arm({}), {}, { cues: shove(0.5), after: 1 }))
    expect(hits).toEqual([])
    // common practice, no source: 1/2 (torque/inertia) t² after a second
    expect(signalValues(document, record, 'm.arm.angle')!.at(-1)).toBeNear(0.5 * (0.5 / 0.1), { relative: 0.01 })
    expect(signalsOf(document, 'run', record).map(({ name }) => name)).toContain('pushes.drives.motor')
  })

  it('is a drive that was asked for more than it can give, and when', () => {
    const { hits } = flown(oneMachine(arm({}), {}, { cues: shove(-5), after: 1 }))
    expect(hits).toMatchObject([{ sort: 'drive', name: 'drives.motor', unit: 'N·m', limit: -3, farthest: -5 }])
    expect(hits[0]!.at).toBeNear(1, { absolute: 0.011 })
    expect(hits[0]!.during).toBeNear(1, { absolute: 0.03 })
  })

  it('is no drive that gives just what it can, whatever its size', () => {
    const strong = (most: number, asked: number) => {
      const machine = arm({})
      const drives = { motor: { kind: 'effortDrive', joint: 'arm.angle', most } }
      return flown(oneMachine({ ...machine, drives } as Part, {}, { cues: shove(asked), after: 0.1 })).hits.length
    }
    expect([strong(1e6, 1e6 + 1e-3), strong(1e6, 1e6 + 10), strong(1e-3, 1e-3 + 1e-12), strong(1e-3, 1.1e-3)]).toEqual([
      0, 1, 0, 1,
    ])
  })

  it('is a stop that was reached', () => {
    const stops = { kind: 'jointStops', joint: 'arm.angle', least: -0.5, most: 0.5, stiffness: 500, damping: 5 }
    const { hits } = flown(oneMachine(arm({ stops }), {}, { cues: shove(1), after: 1 }))
    expect(hits).toMatchObject([{ sort: 'stop', name: 'arm.angle', limit: 0.5 }])
    // at 10 rad/s² the half radian is passed after sqrt(2 0.5 / 10) s
    expect(hits[0]!.at).toBeNear(1 + Math.sqrt(0.1), { absolute: 0.02 })
    expect(hits[0]!.farthest).toBeGreaterThan(0.5)
  })

  it('is the ground, where there is one', () => {
    const falling = mechanismPart(
      { lead: bodyPart(1, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'ground', [0, 0, 1], { axis: [0, 0, 1] })) },
      {
        drives: { winch: { kind: 'effortDrive', joint: 'lead.travel', most: 30 } },
        surroundings: { flat: { kind: 'slope', grade: 0, heading: 0 } },
      },
    )
    const letGo = { letGo: { kind: 'stepCue', loop: 'pushes.drives.winch', at: 1, by: -9.80665 } }
    const { hits } = flown(oneMachine(falling, {}, { cues: letGo, after: 1 }))
    expect(hits).toMatchObject([{ sort: 'ground', name: 'lead', limit: 0 }])
    expect(hits[0]!.at).toBeNear(1 + Math.sqrt(2 / 9.80665), { absolute: 0.03 })
  })

  it('is an input of written equations beyond its ends', () => {
    const machine = typedPart({ v: ['0', 'u - v'] }, { u: 0 })
    const inputs = { u: { kind: 'plainInput', unit: 'V', nominal: 0, most: 2 } }
    const cues = { up: { kind: 'rampCue', loop: 'pushes.u', at: 0, by: 4, over: 4 } }
    const { hits } = flown(oneMachine({ ...machine, inputs } as Part, {}, { cues, after: 1 }))
    expect(hits).toMatchObject([{ sort: 'drive', name: 'u', limit: 2, farthest: 4 }])
    expect(hits[0]!.at).toBeNear(2, { absolute: 0.02 })
  })

  it('of a lifter that is asked for more than its rotors have is each of them, at its most', () => {
    const document = lamplighter()
    const cues = { up: { kind: 'stepCue', loop: 'pushes.pushes.lift', at: 0.5, by: 1000 } }
    const trial = { ...document.trials.galleryRise!, cues, overrides: {}, after: 0.5 }
    const { hits } = flown({ ...document, loops: {}, estimators: {}, tray: {}, trials: { run: trial } })
    const drives = hits.filter(({ sort }) => sort === 'drive')
    expect(drives.length).toBeGreaterThan(0)
    for (const { limit } of drives) expect(limit).toBe(890)
  })

  it('of a lifter that is asked to sink is the ground too', () => {
    const document = lamplighter()
    const trial = document.trials.galleryRise!
    const cues = { down: { kind: 'stepCue', loop: 'height', at: 0.5, by: -2.4 } }
    const { hits } = flown({ ...document, trials: { run: { ...trial, cues, overrides: {} } } })
    expect(hits.map(({ sort }) => sort)).toContain('ground')
  })
})

describe('a loop and its error', () => {
  it('is reference less what is held', () => {
    const machine = typedPart({ v: ['0', 'u - v'] }, { u: 0 })
    const tuning = { kind: 'typedGains', kp: 1, ki: 0, kd: 0 }
    const loops = { hold: { holds: 'v', pushes: 'u', law: { kind: 'proportional' }, tuning } }
    const cues = { up: { kind: 'stepCue', loop: 'hold', at: 0.5, by: 1 } }
    const { document, record } = flown(oneMachine(machine, loops, { cues, after: 10 }))
    // a proportional gain of 1 on a gain of 1 leaves half (common practice, no source)
    expect(signalValues(document, record, 'loops.hold.error')!.at(-1)).toBeNear(0.5, { relative: 1e-3 })
    expect(signalsOf(document, 'run').map(({ name }) => name)).toEqual(
      expect.arrayContaining(['loops.hold.error', 'm.v', 'loops.hold.command', 'pushes.u']),
    )
  })
})
