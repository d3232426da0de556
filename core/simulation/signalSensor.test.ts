import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Part } from '../document'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import { linearPart } from '../tests/parts'
import { compile, findColumn, start } from './index'

const machine = (sensor: Record<string, unknown>) =>
  ({
    ...linearPart([[-1]], [[1]]),
    sensors: { probe: { kind: 'signalSensor', signal: 'x1', rate: 100, ...sensor } },
  }) as Part
const tuning = { kind: 'typedGains', kp: 3, ki: 2, kd: 0 }
const loop = { holds: 'x1', pushes: 'u1', reads: 'measured', law: { kind: 'proportionalIntegral' }, tuning, rate: 100 }
const document = (sensor: Record<string, unknown>, after = 20) =>
  oneMachine(
    machine(sensor),
    { hold: loop },
    {
      ...{ cues: { up: { kind: 'stepCue', loop: 'hold', at: 0, by: 1 } }, after },
      realism: realismWith(['sampling', 'sensorErrors']),
    },
  )
const flown = (sensor: Record<string, unknown>, after = 20) => {
  const checked = expectDone(checkDocument(document(sensor, after))).resolved
  const record = start(expectDone(compile(checked, 'run'))).run({ trial: 'run', layers: [], seed: 5 })
  return { x: findColumn(record, 'm.x1')!, seen: findColumn(record, 'm.x1.measured')! }
}

describe('a sensor of a machine without bodies', () => {
  it('shifts what is held by its bias: an integral sees to what it reads', () => {
    const { x, seen } = flown({ bias: 0.1 })
    expect(x.at(-1)).toBeNear(0.9, { absolute: 1e-3 })
    expect(seen.at(-1)).toBeNear(1, { absolute: 1e-3 })
  })

  it('has noise of its density: over the band of its samples', () => {
    // one-sided density d gives samples of d sqrt(rate / 2) (common practice, no source)
    const { x, seen } = flown({ noise: 0.01 }, 60)
    const errors = [...seen].map((value, k) => value - x[k]!).slice(200)
    const rms = Math.sqrt(errors.reduce((sum, one) => sum + one * one, 0) / errors.length)
    expect(rms).toBeNear(0.01 * Math.sqrt(50), { relative: 0.1 })
  })

  it.each([0, 1, 2, 3])('comes %i samples late', (late) => {
    const { x, seen } = flown({ delay: late / 100 }, 2)
    // it reads before the machine moves on, so the reading of this sample is the value of that one
    for (const k of [10, 40, 90]) expect(seen[k]).toBeNear(x[k - late]!, { absolute: 1e-9 })
  })

  it.each([
    ['nothing that is there', { signal: 'x7' }, /There is no state or output named x7/],
    ['between ends that cross', { least: 1, most: -1 }, /not below/],
  ])('reads %s: told', (_, sensor, words) => {
    const checked = checkDocument(document(sensor))
    const problems = checked.kind === 'refused' ? checked.problems : []
    expect(problems.map(({ what }) => what).join(' ')).toMatch(words)
  })
})
