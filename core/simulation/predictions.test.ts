import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document, Part } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { linearPart, typedPart } from '../tests/parts'
import { numbersFrom } from '../tests/randomGraph'
import { compile, findColumn, predictTrial, predictWatched, start } from './index'

/** Largest distance of the prediction of a loop from the simulation, as a share of how far it moves. */
function gap(document: Document, loop: string): { worst: number; moved: number } {
  const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  expect(record.ending.kind).toBe('finished')
  const { t, held } = predictTrial(document, 'run', loop)!
  const simulated = findColumn(record, `m.${document.loops[loop]!.holds}`)!
  const step = record.time[1]! - record.time[0]!
  const at = Array.from(t, (time) => simulated[Math.round(time / step)]!)
  const moved = Math.max(...at.map(Math.abs))
  return { worst: Math.max(...at.map((value, k) => Math.abs(value - held[k]!))), moved }
}

const checked = (document: Document) => expectDone(checkDocument(document)).resolved

const gains = (kp: number, ki = 0, kd = 0) => ({ kind: 'typedGains', kp, ki, kd })
const filters = {
  slow: { kind: 'lowPass', frequency: 40, order: 1 },
  notch: { kind: 'notch', frequency: 9, width: 0.5, depth: 0.1 },
}

describe('a prediction', () => {
  it('knows the other loops of its machine', () => {
    // two by two, strongly coupled: with the other loop closed the climb is another than alone
    const machine = linearPart(
      [
        [-1, 0.8],
        [-2.5, -0.6],
      ],
      [
        [1, 0.4],
        [-0.7, 1.2],
      ],
    )
    const loops = (closed: boolean): Record<string, Values> => ({
      first: { holds: 'x1', pushes: 'u1', law: { kind: 'proportionalIntegral' }, tuning: gains(2, 1.5) },
      second: {
        holds: 'x2',
        pushes: 'u2',
        law: { kind: 'proportionalIntegral' },
        tuning: gains(1.5, 3),
        rate: 50,
        delay: 1,
        closed,
      },
    })
    const cues = { up: { kind: 'stepCue', loop: 'first', at: 0.5, by: 1 } }
    const of = (closed: boolean) => checked(oneMachine(machine, loops(closed), { cues, after: 6 }))
    for (const closed of [true, false]) {
      for (const loop of ['first', 'second']) {
        const { worst, moved } = gap(of(closed), loop)
        expect(moved).toBeGreaterThan(0.1)
        expect(worst).toBeLessThan(1e-9)
      }
    }
    // one more quantity, with nothing moved but references
    const watched = predictWatched(of(true), 'run', ['x2'])!.values.x2!
    const shown = start(expectDone(compile(of(true), 'run'))).run({ trial: 'run', layers: ['sampling'], seed: 1 })
    expect([...watched]).toBeNear([...findColumn(shown, 'm.x2')!], { absolute: 1e-9 })
    const [alone, both] = [of(false), of(true)].map((document) => [...predictTrial(document, 'run', 'first')!.held])
    expect(Math.max(...alone!.map((value, k) => Math.abs(value - both![k]!)))).toBeGreaterThan(0.05)
  })

  it('knows pushes that cues move, with loops and without any', () => {
    const machine = linearPart(
      [
        [-1, 0.8],
        [-2.5, -0.6],
      ],
      [
        [1, 0.4],
        [-0.7, 1.2],
      ],
    )
    const cues = { shove: { kind: 'stepCue', loop: 'pushes.u1', at: 0.5, by: 2 } }
    const alone = checked(oneMachine(machine, {}, { cues, after: 12 }))
    const record = start(expectDone(compile(alone, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
    const { t, values } = predictWatched(alone, 'run', ['x1', 'x2'])!
    for (const name of ['x1', 'x2']) expect(values[name]).toBeNear([...findColumn(record, `m.${name}`)!], { relative: 1e-9 })
    expect(t).toBeNear([...record.time], { absolute: 1e-12 })
    // at the end the machine rests where a x + b u = 0 (common practice, no source)
    const det = 0.6 + 0.8 * 2.5
    expect(values.x1!.at(-1)).toBeNear((2 * (0.6 - 0.7 * 0.8)) / det, { absolute: 1e-3 })
    expect(values.x2!.at(-1)).toBeNear((2 * (-2.5 - 0.7)) / det, { absolute: 1e-3 })
    expect([...findColumn(record, 'pushes.u1')!].slice(-1)).toEqual([2])

    const law = { kind: 'proportionalIntegral' }
    const held = { first: { holds: 'x1', pushes: 'u1', law, tuning: gains(2, 1.5), delay: 1 } }
    const both = checked(oneMachine(machine, held, { cues, after: 12 }))
    const { worst, moved } = gap(both, 'first')
    expect(moved).toBeGreaterThan(0.1)
    expect(worst).toBeLessThan(1e-9)
    // the integral makes up for it
    expect(predictTrial(both, 'run', 'first')!.held.at(-1)).toBeNear(0, { absolute: 0.02 })
    expect(predictTrial(both, 'run', 'first')!.push.at(-1)).toBeLessThan(-0.5)
  })

  it('goes on with what runs on at the operating point', () => {
    // pushed by 1 against a drag of 0.5 it goes 2 a second, and turns on; a push of 0.1 more ends 0.2 faster
    const machine = typedPart({ place: ['0', 'pace'], pace: ['2', 'push - 0.5 * pace'] }, { push: 1 })
    const cues = { shove: { kind: 'stepCue', loop: 'pushes.push', at: 1, by: 0.1 } }
    const document = checked(oneMachine(machine, {}, { cues, after: 20 }))
    const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
    const { values } = predictWatched(document, 'run', ['place', 'pace'])!
    for (const name of ['place', 'pace']) expect(values[name]).toBeNear([...findColumn(record, `m.${name}`)!], { relative: 1e-7 })
    expect(values.pace!.at(-1)).toBeNear(2.2, { absolute: 1e-4 })
  })

  const laws: readonly ((next: () => number) => Values)[] = [
    (next) => ({ law: { kind: 'proportional' }, tuning: gains(0.4 + next()) }),
    (next) => ({ law: { kind: 'proportionalIntegral' }, tuning: gains(0.4 + next(), 0.5 + next()) }),
    (next) => ({ law: { kind: 'proportionalDerivative' }, tuning: gains(0.4 + next(), 0, 0.05 * next()) }),
    (next) => ({ law: { kind: 'proportionalIntegralDerivative' }, tuning: gains(0.4 + next(), 0.5 * next(), 0.05 * next()) }),
  ]

  it.each(Array.from({ length: 24 }, (_, seed) => ({ seed })))('is the simulation of random linear machine $seed', ({ seed }) => {
    const next = numbersFrom(104_729 * (seed + 1))
    for (let i = 0; i < 4; i++) next()
    const [n, m] = [3 + (seed % 3), 2 + (seed % 2)]
    const entry = () => 2 * next() - 1
    const a = Array.from({ length: n }, (_, i) => Array.from({ length: n }, (__, j) => entry() - (i === j ? 3 : 0)))
    const b = Array.from({ length: n }, (_, i) => Array.from({ length: m }, (__, j) => (i === j ? 2 : entry())))
    const rates = [200, 100, 50, 40, 25]
    const loops = Object.fromEntries(
      Array.from({ length: m }, (_, i): [string, Values] => [
        `loop${i + 1}`,
        {
          ...{
            holds: `x${i + 1}`,
            pushes: `u${i + 1}`,
            rate: rates[Math.floor(next() * rates.length)]!,
            delay: Math.floor(3 * next()),
          },
          ...{ others: 'rest', ...(next() < 0.4 ? { filters } : {}), ...laws[Math.floor(next() * laws.length)]!(next) },
        },
      ]),
    )
    const cues = {
      up: { kind: 'stepCue', loop: 'loop1', at: 0.4, by: 1 },
      swing: { kind: 'sineCue', loop: 'loop2', at: 0.8, by: 0.5, frequency: 3, over: 2 },
      off: { kind: 'switchCue', loop: 'loop2', at: 2.2, turned: 'off' },
      shove: { kind: 'rampCue', loop: `pushes.u${1 + (seed % m)}`, at: 1.1, by: 0.4, over: 0.3 },
    }
    const document = checked(oneMachine(linearPart(a, b), loops, { cues, after: 1.5 }))
    for (const loop of Object.keys(loops)) {
      const { worst, moved } = gap(document, loop)
      expect(moved).toBeGreaterThan(1e-3)
      expect(worst).toBeLessThan(1e-9)
    }
  })

  it.each(Array.from({ length: 12 }, (_, seed) => ({ seed })))(
    'reads what an observer tells, random machine $seed',
    ({ seed }) => {
      const next = numbersFrom(7919 * (seed + 1))
      for (let i = 0; i < 4; i++) next()
      const entry = () => 2 * next() - 1
      const a = Array.from({ length: 3 }, (_, i) => Array.from({ length: 3 }, (__, j) => entry() - (i === j ? 2 : 0)))
      const b = Array.from({ length: 3 }, (_, i) => Array.from({ length: 2 }, (__, j) => (i === j ? 2 : entry())))
      const [rate, other] = [100, [100, 50, 25][seed % 3]!]
      const loops: Record<string, Values> = {
        one: {
          ...{ holds: 'x1', pushes: 'u1', reads: 'estimated', rate, delay: seed % 3, others: 'rest' },
          law: { kind: 'stateFeedback', states: { a: { kind: 'fedBack', signal: 'x3' } } },
          tuning: { kind: 'typedGains', kp: 0.5 + next(), ki: 0, kd: 0, states: [[0.3 * next()]] },
        },
        two: {
          ...{ holds: 'x2', pushes: 'u2', reads: seed % 2 === 0 ? 'estimated' : 'true', rate: other, delay: 1, others: 'rest' },
          ...laws[seed % laws.length]!(next),
        },
      }
      // an observer that believes its sensor little lags behind its machine: the machine is another than it thinks
      const eye = {
        ...{ kind: 'observer', machine: 'm', rate: [50, 100, 25][seed % 3]!, disturbance: 0.05 },
        reads: { a: { kind: 'observedSignal', signal: 'x1', noise: 0.2 } },
      }
      const cues = {
        up: { kind: 'stepCue', loop: 'one', at: 0.4, by: 1 },
        swing: { kind: 'sineCue', loop: 'two', at: 0.8, by: 0.5, frequency: 3, over: 2 },
      }
      const document = checked(oneMachine(linearPart(a, b), loops, { cues, after: 1.5 }, { eye }))
      for (const loop of Object.keys(loops)) {
        const { worst, moved } = gap(document, loop)
        expect(moved).toBeGreaterThan(1e-3)
        expect(worst).toBeLessThan(1e-9)
      }
    },
  )

  it('reads what a low-pass tells, with its lag', () => {
    const held = { holds: 'x1', pushes: 'u1', rate: 100, law: { kind: 'proportional' }, tuning: gains(3) }
    const eye = { kind: 'lowPassEstimator', machine: 'm', signal: 'x1', corner: 4, rate: 100 }
    const of = (reads: string) =>
      checked(
        oneMachine(
          linearPart([[-1]], [[2]]),
          { one: { ...held, reads } },
          { cues: { up: { kind: 'stepCue', loop: 'one', at: 0.3, by: 1 } }, after: 3 },
          { eye },
        ),
      )
    expect(gap(of('estimated'), 'one').worst).toBeLessThan(1e-9)
    const [seen, true_] = ['estimated', 'true'].map((reads) => [...predictTrial(of(reads), 'run', 'one')!.held])
    expect(Math.max(...seen!.map((value, k) => Math.abs(value - true_![k]!)))).toBeGreaterThan(0.1)
  })

  it.each([0, 1, 2, 3])('is the simulation of a cascade whose loops wait %d samples', (delay) => {
    // a speed loop four times as fast under a place loop, beside a third loop on another push
    const machine: Part = linearPart(
      [
        [0, 1, 0],
        [0, -0.5, 0.3],
        [0, 0.2, -1],
      ],
      [
        [0, 0],
        [1, 0],
        [0, 1],
      ],
    )
    const loops: Record<string, Values> = {
      place: { holds: 'x1', pushes: 'loops.speed', tuning: gains(0.8), rate: 50, delay, law: { kind: 'proportional' } },
      speed: {
        holds: 'x2',
        pushes: 'u1',
        reference: 'command',
        tuning: gains(4, 2),
        rate: 200,
        delay,
        law: { kind: 'proportionalIntegral' },
      },
      other: { holds: 'x3', pushes: 'u2', tuning: gains(1, 1), rate: 40, law: { kind: 'proportionalIntegral' } },
    }
    const cues = {
      go: { kind: 'stepCue', loop: 'place', at: 0.3, by: 1 },
      hold: { kind: 'rampCue', loop: 'other', at: 1, by: 0.5, over: 1 },
    }
    const document = checked(oneMachine(machine, loops, { cues, after: 4 }))
    for (const loop of Object.keys(loops)) {
      const { worst, moved } = gap(document, loop)
      expect(moved).toBeGreaterThan(0.05)
      expect(worst).toBeLessThan(1e-9)
    }
  })
})
