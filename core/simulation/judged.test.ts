import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document, Part } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { linearPart, typedPart } from '../tests/parts'
import { accuracyOf, compile, findColumn, judgedRun, layersOn, predictTrial, start } from './index'
import type { Record } from './index'

function ran(document: Document, trial = 'run'): { record: Record; method: string } {
  const { resolved } = expectDone(checkDocument(document))
  const program = expectDone(compile(resolved, trial))
  const layers = [...layersOn(resolved.trials[trial] as never)]
  const record = judgedRun(resolved, program, start(program), { trial, layers, seed: 1 })
  return { record, method: program.method }
}

/** A motor at a voltage: winding of R = 5 ohm and L henry, 0.05 N m/A, 1e-4 kg m², friction 1e-4. */
function motor(inductance: number): Part {
  const [resistance, constant, inertia, friction] = [5, 0.05, 1e-4, 1e-4]
  return linearPart(
    [
      [-resistance / inductance, -constant / inductance],
      [constant / inertia, -friction / inertia],
    ],
    [[1 / inductance], [0]],
  )
}

const cues = { go: { kind: 'stepCue', loop: 'turn', at: 0.2, by: 20 } }
const loops = (kp: number) => ({
  turn: {
    holds: 'x2',
    pushes: 'u1',
    rate: 200,
    law: { kind: 'proportionalIntegral' },
    tuning: { kind: 'typedGains', kp, ki: 4 * kp, kd: 0 },
  },
})
const motorAt = (inductance: number, steps: Values, kp = 0.05) =>
  oneMachine(motor(inductance), loops(kp), { cues, after: 1, ...steps })

describe('steps', () => {
  it('of a fixed length too long for the winding of a motor blow up, and that is said of them and not of the loop', () => {
    const { record } = ran(motorAt(1e-3, { method: 'fixed', step: 1e-3 }))
    expect(record.ending.kind).toBe('diverged')
    // R/L = 5000 rad/s, and the classic method carries 2.78 radians a step: common practice
    const { why } = record.ending as { why: string }
    expect(why).toContain('x1 at 4.99e+3 rad/s')
    expect(why).toContain('at most 557 µs')
    expect(why).not.toContain('loops')
  })

  it.each([
    [1e-3, 'adaptive'],
    [1e-5, 'implicit'],
    [1e-8, 'implicit'],
  ])('that are chosen take a winding of %d H, and say how good they are', (inductance, method) => {
    const chosen = ran(motorAt(inductance, { method: 'chosen', step: 0.02 }))
    expect(chosen.method).toBe(method)
    expect(chosen.record.ending.kind).toBe('finished')
    expect(chosen.record.accuracy!.share).toBeLessThan(1e-4)
    // all of it is linear, so the prediction is exact
    const { resolved } = expectDone(checkDocument(motorAt(inductance, {})))
    const { t, held } = predictTrial(resolved, 'run', 'turn')!
    const [turn, step] = [findColumn(chosen.record, 'm.x2')!, chosen.record.time[1]!]
    const simulated = Array.from(t, (time) => turn[Math.round(time / step)]!)
    expect(simulated).toBeNear(held, { absolute: 1e-6 })
  })

  it('that its ticks alone keep short are said to be no better than their tolerance', () => {
    // 0.5 ms ticks are short for the speed of a motor without its winding
    const { record } = ran(
      oneMachine(
        linearPart([[-5]], [[100]]),
        { turn: { ...loops(0.01).turn, holds: 'x1', rate: 2000 } },
        { cues, after: 1, method: 'chosen', step: 0.02 },
      ),
    )
    expect(record.accuracy!.share).toBe(1e-8)
  })

  it('of a trial that takes them as they are tell how far they are off', () => {
    const coarse = ran(motorAt(2e-3, { method: 'fixed', step: 1e-3 })).record // 2.5 radians a step
    const fine = ran(motorAt(2e-3, { method: 'fixed', step: 5e-5 })).record
    expect(coarse.accuracy!.share).toBeGreaterThan(1e-3)
    expect(coarse.accuracy!.column).toBe('m.x1')
    expect(fine.accuracy!.share).toBeLessThan(1e-4)
  })

  it('count the number of the machine that a trial changes', () => {
    const part = { kind: 'override', parameter: 'a.0.0', how: 'times', amount: 1000 }
    expect(ran(motorAt(1e-3, { method: 'chosen', step: 0.02 })).method).toBe('adaptive')
    expect(ran(motorAt(1e-3, { method: 'chosen', step: 0.02, overrides: { winding: part } })).method).toBe('implicit')
  })

  it('of the demo converge: a turret whose friction turns over within a millisecond', () => {
    const text = readFileSync(new URL('../../demo/lens-turret.json', import.meta.url), 'utf8')
    const demo = JSON.parse(text) as Document
    const { passingShip } = demo.trials
    const of = (steps: Values) => ran({ ...demo, trials: { passingShip: { ...passingShip!, ...steps } } }, 'passingShip').record
    expect(of({}).accuracy!.share).toBeLessThan(1e-6)
    expect(of({ method: 'fixed', step: 1e-3 }).accuracy!.share).toBeGreaterThan(0.05)
  })
})

describe('a run that diverges', () => {
  it('under a loop that is unstable in theory says so of the loops', () => {
    const { record } = ran(motorAt(1e-3, { method: 'chosen', step: 0.02, after: 20 }, 60))
    expect(record.ending).toMatchObject({ kind: 'diverged' })
    expect((record.ending as { why: string }).why).toContain('loops are unstable together in theory')
  })

  it('under loops that are stable at its operating point says that something else carries it away', () => {
    // x' = x + x³ + u is held at 0 by u = -3 x, and lost beyond √2
    const machine = typedPart({ x: ['0', 'x + x^3 + u'] }, { u: 0 })
    const held = { holds: 'x', pushes: 'u', rate: 200, tuning: { kind: 'typedGains', kp: 3, ki: 0, kd: 0 } }
    const asked = (by: number) => ({
      ...{ cues: { go: { kind: 'stepCue', loop: 'turn', at: 0.2, by } }, after: 20, method: 'chosen', step: 0.02 },
      realism: realismWith(['sampling']),
    })
    expect(ran(oneMachine(machine, { turn: held }, asked(0.1))).record.ending.kind).toBe('finished')
    const { ending } = ran(oneMachine(machine, { turn: held }, asked(4))).record
    expect((ending as { why: string }).why).toContain('stable about the operating point in theory')
  })
})

describe('the error of a run', () => {
  const column = (name: string, unit: string, values: number[], role: 'actual' | 'measured' = 'actual') => ({
    ...{ name, label: name, unit, role },
    values: Float64Array.from(values),
  })
  const finished = { kind: 'finished' } as const

  it('is that of the worst signal, as a share of what it moves through', () => {
    const one = [column('place', 'm', [0, 1, 4]), column('speed', 'm/s', [0, 0.5, 1]), column('read', 'm', [9, 0, 9], 'measured')]
    const other = [
      column('place', 'm', [0, 1.2, 4]),
      column('speed', 'm/s', [0, 0.5, 0.9]),
      column('read', 'm', [0, 0, 0], 'measured'),
    ]
    expect(accuracyOf({ columns: one }, { columns: other, ending: finished })).toMatchObject({ column: 'speed', label: 'speed' })
    expect(accuracyOf({ columns: one }, { columns: other, ending: finished }).share).toBeNear(0.1, { absolute: 1e-15 })
    expect(accuracyOf({ columns: one }, { columns: one, ending: finished }).share).toBe(0)
  })

  it('does not count the rounding of what stands still beside what moves in the same unit', () => {
    const one = [column('boom', 'rad', [0, 1]), column('post', 'rad', [0, 1e-16])]
    const other = [column('boom', 'rad', [0, 1]), column('post', 'rad', [1e-16, 0])]
    expect(accuracyOf({ columns: one }, { columns: other, ending: finished }).share).toBeLessThan(1e-12)
  })

  it('does not count the rounding of what stands at one value, such as a ratio of 1, with nothing moving beside it', () => {
    const one = [column('gain of left', '', [1, 1 + 2e-16]), column('gain of right', '', [1, 1])]
    const other = [column('gain of left', '', [1, 1]), column('gain of right', '', [1, 1 - 1e-16])]
    expect(accuracyOf({ columns: one }, { columns: other, ending: finished }).share).toBeLessThan(1e-6)
    const moved = [column('gain of left', '', [1, 1.5]), column('gain of right', '', [1, 1])]
    expect(accuracyOf({ columns: moved }, { columns: other, ending: finished })).toEqual({ column: 'gain of left', label: 'gain of left', share: 1 }) // prettier-ignore
  })

  it('is all of it where the other run diverges', () => {
    const one = [column('place', 'm', [0, 1])]
    const ending = { kind: 'diverged', at: 0, state: 'place', value: 1e9 } as const
    expect(accuracyOf({ columns: one }, { columns: [column('place', 'm', [0])], ending }).share).toBe(1)
  })
})

describe('a run whose steps have no end', () => {
  it('ends, and says that something jumps to and fro', () => {
    // it rises at 1/s up to a corner beyond which it falls by 999: there it has no rest, and no way on
    const corner = typedPart({ x: ['0', 'u - 500 * sign(x - 0.1) - 500'] }, { u: 0 })
    const cues = { go: { kind: 'stepCue', loop: 'pushes.u', at: 0.2, by: 1 } }
    const { resolved } = expectDone(checkDocument(oneMachine(corner, {}, { cues, after: 3, step: 0.01, method: 'adaptive' })))
    const program = expectDone(compile(resolved, 'run'))
    const { ending } = start(program).run({ trial: 'run', layers: [], seed: 1 })
    expect(ending).toMatchObject({ kind: 'diverged', why: expect.stringContaining('jumps to and fro') })
  })
})
