import { describe, expect, it } from 'vitest'
import { checkDocument } from '@calm-hand/core'
import { checks, compile, judgedRun, signalsOf, start, verdictsOf } from '@calm-hand/core/simulation'
import { demo, demoNames } from '../../../core/tests/demo'
import { expectDone } from '../../../core/tests/expectDone'
import { judgedPart } from '../../state/verdicts'
import { addCheck } from './checkEdits'

const flown = demoNames.filter((name) => Object.keys(demo(name).trials).length > 0)

describe('a new check', () => {
  it.each(flown)('of every kind that suits %s says something of its first trial at once', (name) => {
    const document = demo(name)
    const [trial] = Object.keys(document.trials) as [string]
    const { machine } = document.trials[trial]!
    const loop = Object.keys(document.loops).find((one) => document.loops[one]!.machine === machine)!
    const program = expectDone(compile(document, trial))
    const record = judgedRun(document, program, start(program), { trial, layers: [], seed: 1 })
    const signals = signalsOf(document, trial, record).map((one) => one.name)
    const suited = checks.filter(({ suits }) => suits?.(signals) !== false)
    expect(suited.length).toBeGreaterThan(8)
    const withAll = suited.reduce((all, kind) => addCheck({ document: all, trial, loop, record }, kind).change.apply(all), {
      ...document,
      trials: { ...document.trials, [trial]: { ...document.trials[trial]!, checks: {} } },
    })
    const { resolved } = expectDone(checkDocument(withAll))
    const verdicts = verdictsOf(resolved, trial, record)
    expect(verdicts).toHaveLength(suited.length)
    // what is sent to be judged is enough
    expect(verdictsOf(resolved, trial, judgedPart(resolved, trial, record))).toEqual(verdicts)
    for (const { outcome, why } of verdicts) if (outcome === 'open') expect(why).toMatch(/No cue asks|Neither of the two/)
    expect(verdicts.filter(({ outcome }) => outcome === 'holds').length).toBeGreaterThan(3)
  })

  it('is offered only where its signals are: what has no roll is not asked to stay upright', () => {
    const upright = checks.find(({ name }) => name === 'staysUpright')!
    expect(upright.suits!(['winch.line', 'winch.turn'])).toBe(false)
    expect(upright.suits!(['a.readings.x.roll', 'a.readings.x.pitch'])).toBe(true)
  })
})
