import { describe, expect, it } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { demo } from '../../core/tests/demo'
import { expectDone } from '../../core/tests/expectDone'
import { createLastProgram } from './lastProgram'

const trial = 'deckToQuay'
const sent = (document: Document) => structuredClone(document) // as a worker gets it

describe('the last program', () => {
  it('is run again where its document came once more, and is set to another number', async () => {
    const programs = createLastProgram()
    const first = expectDone(await programs(sent(demo('derrick')), trial))
    expect(expectDone(await programs(sent(demo('derrick')), trial))).toBe(first)
    const changed = sent(replaceAt<Document>(demo('derrick'), 'loops.luff.tuning.crossover', 11.5))
    const second = expectDone(await programs(changed, trial))
    expect(second.program.hash).not.toBe(first.program.hash)
    // not built again: it is the first one with another number in memory
    expect(second.program.code).toBe(first.program.code)
    expect(second.program.parameters).not.toEqual(first.program.parameters)
    // what the edit left alone is the very same part
    expect(second.document.machines).toBe(first.document.machines)
    expect(expectDone(await programs(sent(demo('derrick')), trial)).program.hash).toBe(first.program.hash)
  })

  it('says what keeps a trial from running, and still has the one before', async () => {
    const programs = createLastProgram()
    const first = expectDone(await programs(sent(demo('derrick')), trial))
    const greedy = sent(replaceAt<Document>(demo('derrick'), 'loops.luff.tuning.phaseMargin', 3))
    expect((await programs(greedy, trial)).kind).toBe('refused')
    expect(expectDone(await programs(sent(demo('derrick')), trial)).program.hash).toBe(first.program.hash)
  })
})
