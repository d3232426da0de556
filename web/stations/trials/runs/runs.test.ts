// @vitest-environment jsdom
import { describe, expect, it } from 'vitest'
import { compile, judgedRun, layerNamesOn, start } from '@calm-hand/core/simulation'
import { replaceAt } from '@calm-hand/core/document'
import { demo } from '../../../../core/tests/demo'
import { expectDone } from '../../../../core/tests/expectDone'
import { madeAgain } from '../../../compute/madeAgain'
import type { KeptRun } from '../../../state/server'
import { foundRuns, marginWords, newestOfEach, staysBecause, verdictWords } from './findRuns'

const run = (hash: string, more: Partial<KeptRun> = {}): KeptRun => ({
  ...{ hash, trial: 'rise', name: null, tags: '', note: '', verdicts: null, isMade: true, length: 10 },
  madeAt: `2026-11-0${hash.length}T10:00:00Z`,
  ...more,
})
const fails = { check: 'near', outcome: 'fails', margin: -0.2, unit: 'm' } as const
const holds = { check: 'calm', outcome: 'holds', margin: Math.PI / 180, unit: 'rad' } as const

describe('runs that are kept', () => {
  const all = [
    run('a', { tags: 'calm heavy' }),
    run('bb', { name: 'Best of the day', note: 'less lag' }),
    run('ccc', { verdicts: [fails, holds], trial: 'cross' }),
  ]
  const titleOf = (trial: string) => (trial === 'rise' ? 'Gallery rise' : 'Quay crossing')
  const found = (asked: string) => foundRuns(all, asked, titleOf).map(({ hash }) => hash)

  it('are found by every word, wherever it stands, the newest first', () => {
    expect(found('')).toEqual(['ccc', 'bb', 'a'])
    expect(found('heavy')).toEqual(['a'])
    expect(found('LAG best')).toEqual(['bb'])
    expect(found('quay fail')).toEqual(['ccc'])
    expect(found('3 nov')).toEqual(['ccc'])
    expect(found('heavy best')).toEqual([])
  })

  it('say why they stay, or that they may go', () => {
    const newest = newestOfEach(all)
    expect([...newest].sort()).toEqual(['bb', 'ccc'])
    const why = (one: KeptRun) => staysBecause(one, new Map([['a', 'B']]), newest)
    expect(all.map(why)).toEqual(['pinned as B', 'it has a name', 'it is the last of its trial'])
    expect(staysBecause(run('z'), new Map(), newest)).toBeUndefined()
  })

  it('say how their checks came out, with margins as people see them', () => {
    expect(all.map(verdictWords)).toEqual(['no verdict', 'no verdict', '1 of 2 fail'])
    expect(verdictWords({ verdicts: [holds] })).toBe('1 of 1 hold')
    expect([fails, holds].map(marginWords)).toEqual(['-0.2 m', '+1°'])
  })
})

describe('a run made again', () => {
  const lifter = demo('lamplighter')
  const trial = 'galleryRise'
  const program = expectDone(compile(lifter, trial))
  const part = lifter.trials[trial]!
  const record = judgedRun(lifter, program, start(program), { trial, seed: part.seed, layers: layerNamesOn(part) })
  const columns = record.columns.map(({ name, values }) => ({ name, values }))
  const was = { hash: record.hash, time: record.time, columns }

  it('has the same bits as long as what made it is the same', async () => {
    const again = expectDone(await madeAgain(lifter, trial, was))
    expect(again).toMatchObject({ sameHash: true, differ: 0, first: undefined })
    expect(again.numbers).toBe(record.time.length * (columns.length + 1))
  })

  it('differs where one bit does, and says where', async () => {
    const [first, ...rest] = columns
    const values = first!.values.slice()
    new DataView(values.buffer).setUint8(8 * 5, new DataView(values.buffer).getUint8(8 * 5) ^ 1)
    const again = await madeAgain(lifter, trial, { ...was, columns: [{ ...first!, values }, ...rest] })
    expect(expectDone(again)).toMatchObject({ differ: 1, first: first!.name })
  })

  it('of another document is another', async () => {
    const heavier = replaceAt(lifter, 'machines.lamplighter.bodies.hull.mass', 1.8)
    const again = expectDone(await madeAgain(heavier, trial, was))
    expect(again.sameHash).toBe(false)
    expect(again.differ).toBeGreaterThan(1000)
  })
})
