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

  it('followed, takes another number of the machine without building it, once one was compiled', async () => {
    const of = (mass: number) => sent(replaceAt<Document>(demo('lens-turret'), 'machines.turret.bodies.lens.mass', mass))
    const [kept, programs] = [createLastProgram(), createLastProgram('followed')]
    const codes = async (from: typeof programs) => {
      const found = []
      for (const mass of [3.1, 3.2, 3.3]) found.push(expectDone(await from(of(mass), 'passingShip')).program)
      return found
    }
    const [, second, third] = await codes(programs)
    expect(third!.code).toBe(second!.code)
    const [, , whole] = await codes(kept)
    expect(third!.code).not.toBe(whole!.code)
    expect(third!.parameters).toEqual(whole!.parameters)
    expect(third!.hash).toBe(whole!.hash)
  })

  it('says what keeps a trial from running, and still has the one before', async () => {
    const programs = createLastProgram()
    const first = expectDone(await programs(sent(demo('derrick')), trial))
    const greedy = sent(replaceAt<Document>(demo('derrick'), 'loops.luff.tuning.phaseMargin', 3))
    expect((await programs(greedy, trial)).kind).toBe('refused')
    expect(expectDone(await programs(sent(demo('derrick')), trial)).program.hash).toBe(first.program.hash)
  })
})
