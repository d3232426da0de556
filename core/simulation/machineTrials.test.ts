import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { partsIn } from '../document'
import type { Document, Part } from '../document'
import { designLoop } from '../tuning'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { bodyPart, fourBar, jointPart, linearPart, mechanismPart, typedPart } from '../tests/parts'
import { compile, findColumn, predictTrial, start } from './index'
import type { Record as RunRecord } from './index'

const gains = (kp: number, ki: number, kd: number) => ({ kind: 'typedGains', kp, ki, kd })

interface Setting {
  readonly machine: Part
  readonly loop?: Record<string, unknown>
  readonly cue?: { readonly at: number; readonly by: number }
  readonly on?: readonly string[]
  readonly trial?: Record<string, unknown>
}

function documentOf({ machine, loop, cue = { at: 0.5, by: 0.1 }, on = ['sampling'], trial = {} }: Setting): Document {
  const feedforwards = { rest: { kind: 'holding', on: true, scale: 1 } }
  const loops: Record<string, Values> =
    loop === undefined ? {} : { hold: { law: { kind: 'pidOnRate' }, delay: 1, feedforwards, ...loop } }
  const cues = loop === undefined ? {} : { step: { kind: 'stepCue', loop: 'hold', ...cue } }
  return oneMachine(machine, loops, { cues, after: 4, realism: realismWith(on), ...trial })
}

function flown(document: Document): RunRecord {
  const { resolved } = expectDone(checkDocument(document))
  const program = expectDone(compile(resolved, 'run'))
  return start(program).run({ trial: 'run', layers: [], seed: 1 })
}

const cart = (inputs = {}) => typedPart({ speed: ['0', '(push - 3 * speed) / 12'], place: ['0', 'speed'] }, { push: 0 }, inputs)
const held = (record: RunRecord, name: string) => findColumn(record, `m.${name}`)!

describe('a trial of equations', () => {
  it('of a linear machine is its prediction, to rounding', () => {
    const document = documentOf({ machine: cart(), loop: { holds: 'place', pushes: 'push', tuning: gains(60, 20, 40) } })
    const record = flown(document)
    const prediction = predictTrial(document, 'run', 'hold')!
    expect(record.ending.kind).toBe('finished')
    expect([...held(record, 'place')]).toBeNear([...prediction.held.slice(0, record.time.length)], { absolute: 1e-10 })
    expect(Math.max(...held(record, 'place'))).toBeGreaterThan(0.1)
  })

  it('settles where the integral takes it, against an overridden loss', () => {
    const document = documentOf({
      machine: typedPart({ speed: ['0', 'push / 12 - drag * speed'], place: ['0', 'speed'] }, { push: 0 }),
      loop: { holds: 'place', pushes: 'push', tuning: gains(60, 30, 40) },
      trial: { after: 30 },
    })
    const withDrag = { ...document, parameters: { drag: { kind: 'parameter', value: 0.2, unit: '1/s' } } } as Document
    expect(held(flown(withDrag), 'place').at(-1)).toBeNear(0.1, { absolute: 1e-3 })
  })

  it('without a loop stays where it rests', () => {
    const record = flown(documentOf({ machine: cart(), trial: { after: 1 } }))
    expect(record.time.at(-1)).toBe(1)
    expect([...held(record, 'place')].every((value) => value === 0)).toBe(true)
  })

  it('keeps limits of its inputs, which the prediction does not know', () => {
    const machine = cart()
    const limited = { ...machine, inputs: { push: { kind: 'plainInput', unit: 'N', least: -2, most: 2 } } } as unknown as Part
    const loop = { holds: 'place', pushes: 'push', tuning: gains(60, 20, 40) }
    const quickest = (on: readonly string[]) => {
      const speed = held(flown(documentOf({ machine: limited, loop, on })), 'speed')
      return Math.max(...speed.map((value, k) => (k === 0 ? 0 : 100 * (value - speed[k - 1]!))))
    }
    // 2 N on 12 kg, with the loop's 6 N when nothing limits it
    expect(quickest(['sampling', 'driveLimits'])).toBeLessThan(2 / 12 + 1e-9)
    expect(quickest(['sampling'])).toBeGreaterThan(5 / 12)
  })
})

describe('a trial of a sampled machine', () => {
  // x(k+1) = 0.9 x(k) + 0.2 u(k), every 0.1 s
  const machine = { ...linearPart([[0.9]], [[0.2]]), sampleTime: 0.1 } as unknown as Part
  const [state, input] = [Object.keys(partsIn(machine.states))[0]!, Object.keys(partsIn(machine.inputs))[0]!]
  const loop = {
    holds: state,
    pushes: input,
    rate: 10,
    delay: 0,
    law: { kind: 'proportionalIntegral' },
    tuning: gains(1.5, 2, 0),
  }

  it('is the difference equation by hand', () => {
    const record = flown(documentOf({ machine, loop, cue: { at: 0.5, by: 1 } }))
    const found = [...record.time.keys()].filter((k) => k % 5 === 0).map((k) => held(record, state)[k]!)
    let [x, integral] = [0, 0]
    const byHand = found.map((_, k) => {
      const now = x
      const error = (k >= 5 ? 1 : 0) - x
      // command = kp error + I, then I grows by ki error dt
      const command = 1.5 * error + integral
      integral += 2 * 0.1 * error
      x = 0.9 * x + 0.2 * command
      return now
    })
    expect(found).toBeNear(byHand, { absolute: 1e-12 })
    expect(found.at(-1)).toBeNear(1, { absolute: 0.02 })
  })

  it('asks for a loop at its own rate', () => {
    const refused = compile(documentOf({ machine, loop: { ...loop, rate: 20 } }), 'run')
    expect(refused).toMatchObject({ kind: 'refused', problems: [{ where: 'loops.hold.rate', remedy: /10 Hz/ }] })
  })
})

describe('a trial of a mechanism', () => {
  // 2 kg at 0.5 m on a level hinge, held at 0.4 rad above the horizon
  const bar = bodyPart(
    2,
    [0.5, 0, 0],
    [0.01, 0.05, 0.05],
    jointPart('turning', 'ground', [0, 0, 1], { axis: [0, -1, 0], start: 0.4 }),
  )
  const machine = mechanismPart({ bar }, { drives: { motor: { kind: 'effortDrive', joint: 'bar.angle', most: 60 } } })
  const loop = { holds: 'bar.angle', pushes: 'drives.motor', tuning: { kind: 'requirement', crossover: 6, phaseMargin: 0.9 } }

  it('starts at rest on what holds it there, and follows its cue', () => {
    const document = documentOf({ machine, loop, trial: { after: 12 } })
    const design = expectDone(designLoop(document, 'hold'))
    expect(design.nominalHeld).toBeNear(0.4, { absolute: 1e-9 })
    expect(design.nominalPush).toBeNear(2 * 9.80665 * 0.5 * Math.cos(0.4), { relative: 1e-9 })
    const record = flown(document)
    const angle = held(record, 'bar.angle')
    expect(angle[40]).toBeNear(0.4, { absolute: 1e-9 })
    expect(angle.at(-1)).toBeNear(0.5, { absolute: 1e-3 })
  })

  it('is the prediction for a small step, and leaves it for a large one', () => {
    const worst = (by: number) => {
      const document = documentOf({ machine, loop, cue: { at: 0.5, by } })
      const [angle, prediction] = [held(flown(document), 'bar.angle'), predictTrial(document, 'run', 'hold')!]
      return Math.max(...angle.map((value, k) => Math.abs(value - prediction.held[k]!))) / by
    }
    // a sine leaves its tangent by the square of the step
    expect(worst(1e-6)).toBeLessThan(1e-5)
    expect(worst(0.8)).toBeGreaterThan(1e-2)
  })

  it('is damped in the prediction as in the simulation, and dry friction is the difference', () => {
    const arm = bodyPart(2, [0, 0, 0], [0.3, 0.3, 0.3], jointPart('turning', 'ground', [0, 0, 1], { axis: [0, 0, 1] }))
    const loss = {
      kind: 'jointFriction',
      joint: 'arm.angle',
      sliding: 0.5,
      breakaway: 0.5,
      viscous: 5,
      stribeck: 0.1,
      smooth: 0.001,
    }
    const damped = mechanismPart(
      { arm },
      { drives: { motor: { kind: 'effortDrive', joint: 'arm.angle', most: 60 } }, forces: { loss } },
    )
    const turned = { holds: 'arm.angle', pushes: 'drives.motor', tuning: gains(20, 0, 0) }
    const document = documentOf({ machine: damped, loop: turned, on: ['sampling', 'viscous'] })
    const prediction = predictTrial(document, 'run', 'hold')!
    expect([...held(flown(document), 'arm.angle')]).toBeNear([...prediction.held], { absolute: 1e-10 })
    // I w' = u - c w: a pole at -5 / 0.3
    const { plant } = expectDone(designLoop(document, 'hold')).model
    expect(plant.a[1]![1]).toBeNear(-5 / 0.3, { relative: 1e-12 })
    const sticking = held(
      flown(documentOf({ machine: damped, loop: turned, on: ['sampling', 'viscous', 'friction'] })),
      'arm.angle',
    )
    // it stays where the push no longer beats friction, at most 0.5 N·m over 20 N·m/rad away
    expect(0.1 - sticking.at(-1)!).toBeGreaterThan(0.015)
    expect(0.1 - sticking.at(-1)!).toBeLessThan(0.5 / 20)
  })

  it('feels the slope of drag in the wind that blows at its operating point', () => {
    const sled = bodyPart(4, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'ground', [0, 0, 1], { axis: [1, 0, 0] }))
    const machine = mechanismPart(
      { sled },
      {
        drives: { pull: { kind: 'effortDrive', joint: 'sled.travel', most: 900 } },
        forces: { drag: { kind: 'airDrag', body: 'sled', at: [0, 0, 0], linear: 1, quadratic: 0.5 } },
        surroundings: { breeze: { kind: 'steadyWind', velocity: [-6, 0, 0] } },
      },
    )
    const loop = { holds: 'sled.travel', pushes: 'drives.pull', tuning: gains(40, 0, 20) }
    const document = documentOf({ machine, loop, cue: { at: 0.5, by: 1e-5 }, on: ['sampling', 'air', 'gusts'] })
    const { model, nominalPush } = expectDone(designLoop(document, 'hold'))
    expect(nominalPush).toBeNear(6 + 0.5 * 36, { relative: 1e-9 })
    expect(model.plant.a[1]![1]).toBeNear(-(1 + 2 * 0.5 * 6) / 4, { relative: 1e-12 })
    const [travel, prediction] = [held(flown(document), 'sled.travel'), predictTrial(document, 'run', 'hold')!]
    expect([...travel].map((value) => value / 1e-5)).toBeNear(
      [...prediction.held].map((value) => value / 1e-5),
      { absolute: 1e-5 },
    )
  })

  it('moves closed chains', () => {
    const bars = fourBar({ crank: 0.3, coupler: 0.6, rocker: 0.5, ground: 0.7 }, { crank: 1, coupler: 0.2, rocker: 1.4 })
    const driven = { ...bars, gravity: 0, drives: { motor: { kind: 'effortDrive', joint: 'crank.angle', most: 20 } } }
    const record = flown(
      documentOf({
        machine: driven,
        loop: { holds: 'crank.angle', pushes: 'drives.motor', tuning: gains(4, 0, 1) },
        cue: { at: 0.2, by: 0.5 },
      }),
    )
    const angle = held(record, 'crank.angle')
    expect(angle.at(-1)! - angle[0]!).toBeNear(0.5, { absolute: 0.02 })
  })
})
