import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, start, trialFigures } from './index'

describe('figures of a heading', () => {
  /** The cutter asked to turn by so much at once, its figures simulated and predicted. */
  const turned = (by: number) => {
    const cues = { go: { kind: 'stepCue', loop: 'heading', at: 2, by } }
    const { resolved } = expectDone(checkDocument(replaceAt<Document>(demo('pilot-cutter'), 'trials.allTheWayRound.cues', cues)))
    const record = start(expectDone(compile(resolved, 'allTheWayRound'))).run({ trial: 'allTheWayRound', layers: [], seed: 1 })
    return trialFigures(resolved, 'allTheWayRound', record).heading!
  }

  it.each([4, -4, 6, 0.3])('follow its turns the way it went, asked for %d rad', (by) => {
    const { simulated } = turned(by)
    // the short way round to what was asked, which looks the same
    expect(Math.abs(simulated!.steadyError!)).toBeLessThan(0.05)
    expect(simulated!.settling).toBeDefined()
    expect(simulated!.overshoot).toBeLessThan(0.6)
  })
})
