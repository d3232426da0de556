import { describe, expect, it } from 'vitest'
import { checkDocument } from '../index'
import type { Document } from '../document'
import { partsIn, replaceAt } from '../document'
import { eigenvalues, multiply } from '../algebra'
import { observerDesign } from '../control'
import { continuousPole } from '../linear'
import { linearPart } from '../tests/parts'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { realismWith, oneMachine } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { compile, findColumn, start } from './index'
import type { Record as RunRecord } from './index'

/** A cart on a spring with little damping: place and speed. */
const cart = linearPart(
  [
    [0, 1],
    [-2, -0.1],
  ],
  [[0], [1]],
)
const [place, speed] = Object.keys(partsIn(cart.states)) as [string, string]

function documentOf(loop: Values, observer: Values, errors: boolean): Document {
  const hold = {
    ...{ holds: place, pushes: Object.keys(partsIn(cart.inputs))[0], law: { kind: 'pdOnRate' }, reads: 'estimated', rate: 50 },
    ...{ tuning: { kind: 'typedGains', kp: 3, ki: 0, kd: 2 }, ...loop },
  }
  const reads = { a: { kind: 'observedSignal', signal: place, noise: 0.02 } }
  const trial = {
    ...{ cues: { up: { kind: 'stepCue', loop: 'hold', at: 1, by: 1 } }, after: 60, seed: 7 },
    realism: realismWith(['sampling', ...(errors ? ['sensorErrors'] : [])]),
  }
  const eye = { kind: 'observer', machine: 'm', rate: 50, disturbance: 0.05, reads, ...observer }
  return oneMachine(cart, { hold }, trial, { eye })
}

const checked = (document: Document) => expectDone(checkDocument(document)).resolved
const flown = (document: Document, trial = 'run'): RunRecord =>
  start(expectDone(compile(checked(document), trial))).run({ trial, layers: [], seed: 7 })
const column = (record: RunRecord, name: string) => findColumn(record, name)!
const spread = (values: ArrayLike<number>) =>
  Math.sqrt(Array.from(values).reduce((sum, one) => sum + one * one, 0) / values.length)

describe('an observer in a trial', () => {
  it('is the truth where nothing disturbs and nothing errs', () => {
    const record = flown(documentOf({}, {}, false))
    for (const name of [place, speed])
      expect([...column(record, `m.${name}.estimate`)]).toBeNear([...column(record, `m.${name}`)], { absolute: 1e-9 })
    expect(spread(column(record, `estimators.eye.innovation.${place}`))).toBeLessThan(1e-9)
  })

  // Anderson & Moore, Optimal Filtering, 1979 (from memory): innovations are white; their variance is c p cᵀ + r
  it('reads less noise than its sensor, with white innovations', () => {
    const record = flown(documentOf({}, {}, true))
    const error = column(record, `m.${place}.estimate`).map((value, k) => value - column(record, `m.${place}`)[k]!)
    expect(spread(error)).toBeLessThan(0.01)
    const innovations = [...column(record, `estimators.eye.innovation.${place}`)]
    expect(spread(innovations)).toBeGreaterThan(0.018)
    expect(spread(innovations)).toBeLessThan(0.024)
    const along = innovations.slice(1).reduce((sum, value, k) => sum + value * innovations[k]!, 0) / innovations.length
    expect(Math.abs(along) / spread(innovations) ** 2).toBeLessThan(0.08)
  })

  it('comes to its steady gains from those of each moment', () => {
    const [steady, varying] = ['steady', 'varying'].map((gains) => {
      const record = flown(documentOf({}, { gains, startUncertainty: 2 }, true))
      return column(record, `m.${place}.estimate`)
    })
    const late = (values: ArrayLike<number>) => Array.from(values).slice(-1000)
    expect(late(varying!)).toBeNear(late(steady!), { absolute: 1e-6 })
    // at first it believes what it reads far more than its start
    const early = Math.max(...Array.from(varying!, (value, k) => Math.abs(value - steady![k]!)).slice(0, 20))
    expect(early).toBeGreaterThan(1e-3)
  })

  it('puts the poles of its errors where its pace says', () => {
    const document = checked(documentOf({}, { gains: 'poles', pace: 6 }, false))
    const { a, read, update } = expectDone(observerDesign('eye', document.machines.m!, document.estimators.eye!))
    const kept = a.map((_, i) =>
      a.map((__, j) => (i === j ? 1 : 0) - update[i]!.reduce((sum, gain, k) => sum + gain * read[k]![j]!, 0)),
    )
    const poles = eigenvalues(multiply(kept, a))!.map((pole) => continuousPole(pole, 1 / 50))
    // a Butterworth pair: 6 rad/s at 45 degrees
    for (const { re, im } of poles) expect([re, Math.abs(im)]).toBeNear([-6 / Math.SQRT2, 6 / Math.SQRT2], { relative: 1e-9 })
    const record = flown(documentOf({}, { gains: 'poles', pace: 6 }, false))
    expect([...column(record, `m.${speed}.estimate`)]).toBeNear([...column(record, `m.${speed}`)], { absolute: 1e-9 })
  })

  it('puts three of them on a half circle, one of them on the axis', () => {
    const three = linearPart([[0, 1, 0], [0, 0, 1], [-1, -3, -0.5]], [[0], [0], [1]]) // prettier-ignore
    const [first] = Object.keys(partsIn(three.states))
    const reads = { a: { kind: 'observedSignal', signal: first, noise: 0.02 } }
    const eye = { kind: 'observer', machine: 'm', rate: 50, disturbance: 0.05, reads, gains: 'poles', pace: 6 }
    const document = checked(oneMachine(three, {}, {}, { eye }))
    const { a, read, update } = expectDone(observerDesign('eye', document.machines.m!, document.estimators.eye!))
    const kept = a.map((_, i) => a.map((__, j) => (i === j ? 1 : 0) - update[i]!.reduce((sum, gain, k) => sum + gain * read[k]![j]!, 0))) // prettier-ignore
    const poles = eigenvalues(multiply(kept, a))!.map((pole) => continuousPole(pole, 1 / 50))
    const found = poles.sort((p, q) => p.im - q.im).flatMap(({ re, im }) => [re, im])
    const [half, high] = [-3, 3 * Math.sqrt(3)]
    expect(found).toBeNear([half, -high, -6, 0, half, high], { relative: 1e-7 })
  })

  it('carries the state feedback of the derrick', () => {
    const record = flown(demo('derrick'), 'hurried')
    const [angle, reference] = [column(record, 'derrick.column.angle'), column(record, 'loops.slew.reference')]
    expect(record.ending.kind).toBe('finished')
    expect(angle.at(-1)!).toBeNear(reference.at(-1)!, { absolute: 0.01 })
    expect(
      spread(column(record, 'derrick.rope.angle.estimate').map((value, k) => value - column(record, 'derrick.rope.angle')[k]!)),
    ).toBeLessThan(0.01)
  })
})

describe('observers that cannot be', () => {
  const problems = (document: Document) => {
    const outcome = checkDocument(document)
    return outcome.kind === 'refused' ? outcome.problems : []
  }

  it('do not estimate what nothing shows, and a loop that would read it is told', () => {
    // the place of a free cart does not show in its speed
    const free = linearPart(
      [
        [0, 1],
        [0, -0.1],
      ],
      [[0], [1]],
    )
    const document = replaceAt(
      documentOf({}, { reads: { a: { kind: 'observedSignal', signal: speed, noise: 0.02 } } }, false),
      'machines.m',
      free,
    )
    expect(problems(document)).toMatchObject([
      { where: 'loops.hold.reads', what: /nothing estimates/, remedy: /Let the observer read what shows it/ },
    ])
    const ofSpeed = replaceAt(document, 'loops.hold', { ...document.loops.hold, holds: speed, law: { kind: 'proportional' } })
    const design = expectDone(observerDesign('', checked(ofSpeed).machines.m!, checked(ofSpeed).estimators.eye!))
    expect(design.estimated).toEqual([speed])
  })

  it('are explained where they read nothing, or something strange, or nobody is there', () => {
    expect(problems(documentOf({}, { reads: {} }, false))).toMatchObject([{ where: 'estimators.eye.reads' }])
    const strange = { a: { kind: 'observedSignal', signal: 'place9', noise: 1 } }
    expect(problems(documentOf({}, { reads: strange }, false))).toMatchObject([{ where: 'estimators.eye.reads.a.signal' }])
    expect(problems({ ...documentOf({}, {}, false), estimators: {} })).toMatchObject([
      { where: 'loops.hold.reads', remedy: /observer/ },
    ])
  })
})
