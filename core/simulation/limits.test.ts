import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Part } from '../document'
import { mechanismLayers } from '../machine'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import { typedPart } from '../tests/parts'
import { compile, findColumn, start } from './index'

/** A lag that a PI loop holds, asked for more than its push can give, then for nothing. */
function flown(law: Part, more: Record<string, unknown> = {}, sign = 1) {
  const machine = typedPart({ level: ['0', `-level + ${sign} * push`] }, { push: 0 })
  const tuning = { kind: 'typedGains', kp: 2 * sign, ki: 4 * sign, kd: 0 }
  const hold = { holds: 'level', law, pushes: 'push', tuning, ...more }
  const cues = {
    up: { kind: 'stepCue', loop: 'hold', at: 0, by: 3 },
    down: { kind: 'stepCue', loop: 'hold', at: 5, by: -3 },
  }
  const realism = realismWith(['sampling', ...mechanismLayers.map(({ name }) => name)])
  const { resolved } = expectDone(checkDocument(oneMachine(machine, { hold }, { cues, after: 5, realism })))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  return (name: string) => findColumn(record, name)!
}

const pi = (windup: string) => ({ kind: 'proportionalIntegral', windup, tracking: 0.5 })
/** How long it stays above a tenth after it was asked to come down, s. */
const late = (level: Float64Array) => [...level].slice(500).filter((value) => value > 0.3).length / 100

describe('limits of a command', () => {
  it('hold in every sample, and the terms still add up to the command', () => {
    const column = flown(pi('trackBack'), { least: -0.5, most: 2, fastest: 20 })
    const command = column('loops.hold.command')
    expect(Math.max(...command)).toBe(2)
    expect(Math.min(...command)).toBeGreaterThanOrEqual(-0.5)
    const steps = [...command].slice(1).map((value, i) => Math.abs(value - command[i]!))
    expect(Math.max(...steps)).toBeLessThanOrEqual(0.2 + 1e-12)
    const terms = ['proportional', 'integral', 'limiter', 'feedforward'].map((term) => column(`loops.hold.${term}`))
    const sums = [...command].map((_, k) => terms.reduce((sum, term) => sum + term[k]!, 0))
    expect(sums).toBeNear([...command], { absolute: 1e-12 })
  })

  it('wind an integral up unless it tracks back or waits', () => {
    // common practice, no source: without care the integral must first be driven back
    const [none, trackBack, hold] = ['none', 'trackBack', 'hold'].map((windup) => late(flown(pi(windup), { most: 2 })('m.level')))
    expect(none).toBeGreaterThan(2 * trackBack!)
    expect(none).toBeGreaterThan(2 * hold!)
  })

  it.each(['trackBack', 'hold', 'none'])('act alike on a machine that is pushed the other way round, with "%s"', (windup) => {
    const [plain, mirrored] = [flown(pi(windup), { least: -0.5, most: 2 }), flown(pi(windup), { least: -2, most: 0.5 }, -1)]
    expect([...mirrored('m.level')]).toEqual([...plain('m.level')])
    expect(Math.max(...plain('m.level'))).toBeGreaterThan(1.5)
  })

  it('change nothing where the command stays inside them', () => {
    const [wide, none] = [flown(pi('trackBack'), { most: 1e6 }), flown(pi('trackBack'))]
    expect([...wide('m.level')]).toEqual([...none('m.level')])
  })

  it('are named where they contradict one another', () => {
    expect(() => flown(pi('none'), { least: 2, most: 1 })).toThrow(/least command, 2, is not below the most, 1/)
  })
})
