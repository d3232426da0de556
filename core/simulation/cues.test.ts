import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { compile, cues, findColumn, lastCueEnd, referenceOf, start, trialFigures } from './index'
import type { Record } from './index'

const sizes: Readonly<{ [slot: string]: number }> = { at: 1.5, by: -2, over: 0.8 }
const read = (slot: string) => sizes[slot]!

describe.each(cues)('the cue $name', (cue) => {
  it('does nothing before its time and all of it after its end', () => {
    expect(cue.value(0, read)).toBe(cue.value(1.499, read))
    expect(Math.abs(cue.value(0, read) as number)).toBe(0)
    expect(cue.value(cue.ends(read) + 1e-9, read)).toBeNear(-2, { absolute: 1e-8 })
    expect(cue.value(100, read)).toBe(-2)
  })

  it('never goes back or beyond', () => {
    const time = fc.double({ min: 0, max: 5, noNaN: true })
    fc.assert(
      fc.property(time, time, (a, b) => {
        const [earlier, later] = [Math.min(a, b), Math.max(a, b)].map((t) => cue.value(t, read) as number)
        expect(later).toBeLessThanOrEqual(earlier!)
        expect(later).toBeGreaterThanOrEqual(-2)
      }),
    )
  })
})

const withCues = (parts: object): Document => replaceAt<Document>(lamplighter(), 'trials.galleryRise.cues', parts)
const fly = (document: Document): Record =>
  start(expectDone(compile(document, 'galleryRise'))).run({ trial: 'galleryRise', layers: [], seed: 1 })
const column = (record: Record, name: string) => findColumn(record, name)!

describe('several cues', () => {
  const document = withCues({
    up: { kind: 'stepCue', loop: 'height', at: 1, by: 2 },
    down: { kind: 'rampCue', loop: 'height', at: 4, by: -1.5, over: 2 },
  })

  it('add up', () => {
    const reference = referenceOf(document, 'galleryRise', 'height')
    expect([0, 1, 3, 5, 6, 9].map(reference)).toBeNear([0, 2, 2, 1.25, 0.5, 0.5], { absolute: 1e-12 })
    expect(referenceOf(document, 'galleryRise', 'roll')(5)).toBe(0)
  })

  it('make the trial last until the last of them is over, and longer', () => {
    expect(lastCueEnd(document.trials.galleryRise as never)).toBe(6)
    expect(fly(document).time.at(-1)).toBeNear(16, { absolute: 1e-9 })
  })

  it('are followed in flight, as the record of the reference says', () => {
    const record = fly(document)
    const reference = column(record, 'loops.height.reference')
    const at = (t: number) => record.time.findIndex((one) => one >= t - 1e-9)
    expect(reference[at(5)]).toBeNear(1.25, { absolute: 0.01 })
    expect(column(record, 'lamplighter.height').at(-1)).toBeNear(0.5, { absolute: 0.03 })
  })

  it('have figures over the last one', () => {
    const { simulated } = trialFigures(document, 'galleryRise', fly(document)).height!
    expect(simulated!.steadyError).toBeNear(0, { absolute: 0.03 })
  })
})

describe('a trial without cues', () => {
  it('hovers', () => {
    const record = fly(withCues({}))
    expect(Math.max(...column(record, 'lamplighter.height').map(Math.abs))).toBeLessThan(0.1)
    expect(record.time.at(-1)).toBeNear(10, { absolute: 1e-9 })
  })
})

describe('laws in flight with a load that the model does not know', () => {
  const loaded = replaceAt<Document>(lamplighter(), 'trials.galleryRise.overrides', {
    heavier: { kind: 'override', parameter: 'load', how: 'set', amount: 0.15 },
  })
  const long = replaceAt<Document>(loaded, 'trials.galleryRise.after', 25)
  const gains = { kp: 22, ki: 14, kd: 16 }
  const errorWith = (law: string, used: Partial<typeof gains>) => {
    const tuned = replaceAt<Document>(long, 'loops.height.tuning', { kind: 'typedGains', kp: 0, ki: 0, kd: 0, ...used })
    const record = fly(replaceAt<Document>(tuned, 'loops.height.law.kind', law))
    expect(record.ending.kind).toBe('finished')
    return trialFigures(long, 'galleryRise', record).height!.simulated!.steadyError
  }

  it('without an integral keep the error that the missing push leaves: 15 % of the weight over kp', () => {
    const missing = 0.15 * 3.4 * 9.80665
    expect(errorWith('pdOnRate', { kp: gains.kp, kd: gains.kd })).toBeNear(-missing / gains.kp, { relative: 0.03 })
  })

  it('with an integral lose it', () => {
    expect(errorWith('pidOnRate', gains)).toBeNear(0, { absolute: 0.02 })
  })
})
