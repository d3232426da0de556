// The carrier of the demo: a balance on wheels that grip and slip, and what decides that it kneels.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { replaceAt } from '../document'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { designLoop, togetherFigures } from '../tuning'
import { compile, findColumn, start, trialFigures, verdictsOf } from './index'
import type { Record as RunRecord } from './index'

const porter = demo('porter')
const column = (record: RunRecord, name: string) => [...findColumn(record, `porter.${name}`)!]

function run(trial: string): RunRecord {
  return start(expectDone(compile(porter, trial))).run({ trial, layers: [], seed: 4711 })
}

describe('the porter', () => {
  const [berths, kneels] = [run('berthToBerth'), run('kneels')]
  const outcomes = (trial: string, record: RunRecord) =>
    Object.fromEntries(verdictsOf(porter, trial, record).map(({ check, outcome }) => [check, outcome]))

  it('is stable in all of its loops together, from its own sensors', () => {
    const together = expectDone(togetherFigures(porter, 'porter', 'commands'))
    expect(together.stable).toBe(true)
  })

  it('goes from berth to berth upright, first the wrong way, as what balances must', () => {
    // a zero in the right half-plane: wheel under the pendulum before it leans (common practice, no source)
    expect(Math.min(...column(berths, 'readings.own.ahead').slice(200, 500))).toBeLessThan(-2e-4)
    expect(outcomes('berthToBerth', berths)).toEqual({ upright: 'holds', arrives: 'holds', still: 'holds' })
  })

  it('goes as its linear form predicts, but for what the slope adds: on a level deck to a hundredth', () => {
    const level = replaceAt<typeof porter>(porter, 'scenes.jetty.surroundings', {})
    const record = start(expectDone(compile(level, 'berthToBerth'))).run({ trial: 'berthToBerth', layers: [], seed: 4711 })
    const { simulated, predicted } = trialFigures(level, 'berthToBerth', record).place!
    expect(simulated!.rise! / predicted!.rise!).toBeNear(1, { absolute: 0.01 })
    expect(simulated!.worst / predicted!.worst).toBeNear(1, { absolute: 0.01 })
    expect([simulated!.overshoot, simulated!.steadyError!]).toBeNear([predicted!.overshoot, 0], { absolute: 0.015 })
    const onSlope = trialFigures(porter, 'berthToBerth', berths).place!.simulated!
    expect(onSlope.rise! / predicted!.rise!).toBeGreaterThan(1.05)
  })

  it('rolls without slip until it comes onto weed, where one wheel spins and uses all of its grip', () => {
    const [slip, used] = [column(kneels, 'forces.leftTyre.slip'), column(kneels, 'forces.leftTyre.used')]
    const weed = kneels.cues!.find(({ cue }) => cue === 'weed')!.began!
    const row = (t: number) => kneels.time.findIndex((time) => time >= weed + t)
    expect(Math.max(...slip.slice(0, row(0)))).toBeLessThan(0.05)
    expect(Math.max(...slip.slice(row(0), row(0.3)))).toBeGreaterThan(0.1)
    expect(Math.max(...used.slice(row(0), row(0.3)))).toBe(1)
    expect(Math.max(...column(kneels, 'forces.rightTyre.used').slice(row(0), row(0.15)))).toBeLessThan(0.6)
  })

  it('kneels on its skids in time where it notices, and too late where it is told late', () => {
    expect(outcomes('kneels', kneels)).toEqual({ inTime: 'holds', upright: 'holds', still: 'holds' })
    expect(outcomes('tooLate', run('tooLate'))).toEqual({ inTime: 'fails', upright: 'fails' })
  })

  it('with a machine that is wrong is told that, and no more: signals that follow from it are not asked', () => {
    const short = replaceAt<object>(porter, 'machines.porter.pushes.turn.shares', [[-1]])
    const outcome = checkDocument(short)
    expect(outcome).toMatchObject({ kind: 'refused', problems: [{ where: 'machines.porter.pushes.turn.shares' }] })
  })

  it('decides by what its skids do not move; a law with gains is refused that', () => {
    expect(expectDone(designLoop(porter, 'kneeling')).values.pushes).toBe('drives.skids')
    const { kneeling } = porter.loops
    const plain = {
      ...porter,
      loops: { ...porter.loops, kneeling: { ...kneeling, law: { kind: 'proportional' } } },
    } as typeof porter
    expect(designLoop(plain, 'kneeling')).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'loops.kneeling.pushes', what: expect.stringContaining('does not move') as string }],
    })
  })
})
