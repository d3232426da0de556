import { describe, expect, it } from 'vitest'
import type { Document } from '@calm-hand/core/document'
import { replaceAt } from '@calm-hand/core/document'
import { demo } from '../../core/tests/demo'
import { createDocuments } from './documents'
import { questions } from './questions'

describe('documents that questions are about', () => {
  it('share what an edit left as it was, so that what is known of it stays known', () => {
    const documents = createDocuments()
    documents.take(1, structuredClone(demo('derrick')))
    documents.take(2, structuredClone(replaceAt<Document>(demo('derrick'), 'loops.luff.tuning.crossover', 2)))
    const [before, after] = [documents.of(1), documents.of(2)]
    expect(after.machines).toBe(before.machines)
    expect(after.loops.hoist).toBe(before.loops.hoist)
    expect(after.loops.luff).not.toBe(before.loops.luff)
  })

  it('are let go when many came after, and that is told', () => {
    const documents = createDocuments()
    for (let id = 1; id < 20; id++) documents.take(id, { ...demo('derrick'), title: String(id) })
    expect(documents.of(19).title).toBe('19')
    expect(() => documents.of(1)).toThrow(/no longer looked at/)
  })

  it('stay when they were sent again, as undo does with an old one', () => {
    const documents = createDocuments()
    const take = (id: number) => documents.take(id, { ...demo('derrick'), title: String(id) })
    for (let id = 1; id < 9; id++) take(id)
    take(1)
    take(9)
    expect(documents.of(1).title).toBe('1')
  })
})

describe('every question', () => {
  const document = demo('derrick')
  const [machine] = Object.keys(document.machines) as [string]
  const [trial] = Object.keys(document.trials) as [string]
  const asked = { trial: undefined, stepSize: 0.1, stepAt: 1, disturbance: undefined }
  const unflown = { time: new Float64Array(1), columns: [], ending: { kind: 'finished' } }
  const rest: { [Name in keyof typeof questions]: unknown[] } = {
    judged: [],
    checked: [],
    report: [machine, []],
    effort: ['turret', 'follow', []],
    letters: [machine, document.machines[machine], 'all', undefined],
    loopView: ['luff', undefined],
    rungs: [machine],
    stale: [],
    beyondReach: [],
    runHashes: [],
    verdicts: [trial, unflown],
    checkCounts: [[{ trial, run: unflown }]],
    gainNames: [machine],
    followed: [trial],
    retuned: [],
    together: [machine, 'commands'],
    predicted: [trial, 'luff'],
    predictedWatched: [trial, ['luff.angle']],
    spread: [document, 'luff', { paths: [], share: 0.2 }, asked, 5],
    ways: ['luff', asked, 5, [{ feedback: true, feedforward: true }]],
    earlier: ['luff', asked, 5, [document]],
    points: ['luff'],
    polesAndZeros: ['luff'],
    locus: ['luff', { kind: 'gains' }],
    forms: ['luff', undefined],
    plantSeen: ['luff', [], undefined, 'closed'],
    newLoop: [machine],
    withLaw: ['luff', document.loops.luff, 'stateFeedback'],
    gapPlan: [trial, []],
    gapRun: [trial, [], [0]],
    gapShares: [{ causes: [], signals: [], coalitions: [0], pieces: [[0]], time: new Float64Array(2) }, [], 'luff.angle', 0, 1],
    changed: [document],
    madeAgain: [trial, { hash: '', time: new Float64Array(2), columns: [] }],
    spanRead: [[{ name: 'a', time: Float64Array.of(0, 1), values: Float64Array.of(0, 1) }], 0, 1, {}],
    compared: [trial, 'rig', [], 0, 1],
    recordPlan: [document, trial, 'rig', 0, 1],
    recordSlopes: [document, trial, 'rig', 0, 1, [0, 6]],
    recordSeparated: [document, trial, 'rig', 0, 1, ['a', 'b'], []],
    recordAccounted: [document, trial, 'rig', 0, 1, [], undefined],
    rangeOfMap: ['luff', 1],
    columnsOfMap: ['luff', 1, [1, 2], [0.8]],
    meet: ['luff', { wishes: { phaseMargin: 0.7 }, stepSize: 0.1, ranges: false }, () => true],
    gentleStep: [trial, 'luff', 0.1],
  }

  it.each(Object.keys(questions) as (keyof typeof questions)[])('of %s is answered by what a worker can send', async (name) => {
    const of = name === 'effort' ? demo('lens-turret') : document
    const answer = await (questions[name] as (document: Document, ...rest: unknown[]) => unknown)(of, ...rest[name])
    expect(structuredClone(answer)).toEqual(answer)
  })
})
