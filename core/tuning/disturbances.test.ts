import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import { typedPart } from '../tests/parts'
import { designLoop, disturbancesOf, disturbedPlant, predict, recoveryFigures, spreadOver, whoPushes } from './index'
import type { LoopDesign, PredictionRequest } from './index'

const checked = (document: Document) => expectDone(checkDocument(document)).resolved
const mass = (more: object = {}) =>
  checked(
    oneMachine(
      typedPart(
        { place: ['0', 'speed'], speed: ['0', '(push + gust) / weight'] },
        { push: 0, gust: 0 },
        { constants: { weight: 2 } },
      ),
      {
        hold: {
          holds: 'place',
          pushes: 'push',
          rate: 200,
          law: { kind: 'pdOnRate' },
          tuning: { kind: 'typedGains', kp: 8, ki: 0, kd: 8 },
          ...more,
        },
      },
    ),
  )
const still: PredictionRequest['reference'] = () => [0, 0, 0]
const stepAt = (at: number, size: number) => (t: number) => (t >= at ? size : 0)
const answer = (design: LoopDesign, disturbance: PredictionRequest['disturbance']) =>
  predict(design.model, { gains: design.gains, reference: still, imbalance: 0, closed: true, until: 12, disturbance })

describe('a disturbance that steps', () => {
  const document = mass()
  const design = expectDone(designLoop(document, 'hold'))

  it('can be everything that pushes, and the reading', () => {
    expect(disturbancesOf(document, 'hold').map(({ name }) => name)).toEqual(['push', 'reading', 'gust'])
  })

  it('on the push leaves force over proportional gain: common practice, no source', () => {
    const { t, held } = answer(design, { through: 'push', value: stepAt(1, 4) })
    const figures = recoveryFigures(t, held, 1)
    expect(figures.left).toBeCloseTo(4 / 8, 6)
    expect(figures.recovers).toBeUndefined()
    expect(held[150]).toBe(0)
  })

  it('by another push that acts at the same place does the same', () => {
    const plant = expectDone(disturbedPlant(document, 'hold', 'gust'))
    const [one, two] = [
      answer(design, { through: 'push', value: stepAt(1, 4) }),
      answer(design, { through: 'plant', plant, value: stepAt(1, 4) }),
    ]
    expect([...two.held]).toBeNear([...one.held], { absolute: 1e-12 })
    // what is asked for is the same too: the gust itself is no command
    expect([...two.push]).toBeNear([...one.push], { absolute: 1e-12 })
  })

  it('on the reading is followed as a reference turned round', () => {
    const { held } = answer(design, { through: 'reading', value: stepAt(1, 0.5) })
    expect(held.at(-1)).toBeCloseTo(-0.5, 6)
  })

  it('is taken out by an integral', () => {
    const integral = expectDone(designLoop(mass({ law: { kind: 'pidOnRate' }, tuning: { kind: 'typedGains', kp: 8, ki: 6, kd: 8 } }), 'hold')) // prettier-ignore
    const { t, held } = answer(integral, { through: 'push', value: stepAt(1, 4) })
    const { worst, worstAfter, recovers, left } = recoveryFigures(t, held, 1)
    expect(Math.abs(left)).toBeLessThan(2e-3)
    expect(worst).toBeGreaterThan(0.2)
    expect(worstAfter).toBeLessThan(recovers!)
    const at = held.findIndex((value) => value === worst)
    expect(t[at]! - 1).toBeCloseTo(worstAfter, 9)
  })

  it('reaches a loop that commands another through the one inside', () => {
    const document = checked(lamplighter())
    const plant = expectDone(disturbedPlant(document, 'roll', 'pushes.rollMoment'))
    const roll = expectDone(designLoop(document, 'roll'))
    expect(plant.inputs).toHaveLength(2)
    const moved = predict(roll.model, {
      ...{ gains: roll.gains, reference: still, imbalance: 0, closed: true, until: 3 },
      disturbance: { through: 'plant', plant, value: stepAt(0.1, 0.05) },
    })
    // pushed to the side, it is held there by P on P: off by a little that stays
    const end = moved.held.at(-1)!
    expect(end).toBeGreaterThan(0)
    expect(moved.held.at(-20)!).toBeNear(end, { relative: 1e-2 })
  })
})

describe('who pushes', () => {
  const design = expectDone(designLoop(mass(), 'hold'))
  const stepped = predict(design.model, { gains: design.gains, reference: () => [1, 0, 0], imbalance: 0, closed: true, until: 6 })

  it('adds up to the command, and shares to the whole', () => {
    const sum = (k: number) => Object.values(stepped.terms).reduce((total, term) => total + term[k]!, 0)
    for (const k of [0, 40, 300]) expect(sum(k)).toBeCloseTo(stepped.push[k]!, 12)
    expect(whoPushes(stepped, 100, 1).reduce((total, { share }) => total + share, 0)).toBeCloseTo(1, 12)
  })

  it('says that the rate brakes what the error drives', () => {
    const found = Object.fromEntries(whoPushes(stepped, 100, 1).map(({ term, does }) => [term, does]))
    expect(found).toEqual({ proportional: 'drives', rate: 'brakes' })
    expect(whoPushes(stepped, 0, 1)).toEqual([{ term: 'proportional', share: 1, does: 'holds' }])
  })
})

describe('a spread', () => {
  const document = mass()
  const answered = (paths: readonly string[], share: number, of = document) =>
    spreadOver(of, 'hold', paths, share, ({ model, gains }) =>
      predict(model, { gains, reference: () => [1, 0, 0], imbalance: 0, closed: true, until: 6 }),
    )
  const weight = 'constants.weight.value'

  it('holds the nominal answer and those of both ends', () => {
    const { held, count, unstable } = expectDone(answered([weight], 0.2))
    expect([count, unstable]).toEqual([2, []])
    const at = held.xs.findIndex((t) => t >= 0.5)
    for (const factor of [0.8, 1, 1.2]) {
      const changed = checked({ ...document, machines: { m: { ...document.machines.m!, constants: { weight: { kind: 'constant', value: 2 * factor, unit: '' } } } } } as never) // prettier-ignore
      const { model, gains } = expectDone(designLoop(changed, 'hold'))
      const one = predict(model, { gains, reference: () => [1, 0, 0], imbalance: 0, closed: true, until: 6 })
      const value = one.held[one.t.findIndex((t) => t >= held.xs[at]! - 1e-9)]!
      expect(value).toBeGreaterThanOrEqual(held.least[at]! - 1e-9)
      expect(value).toBeLessThanOrEqual(held.most[at]! + 1e-9)
    }
    expect(held.most[at]!).toBeGreaterThan(held.least[at]! + 0.01)
  })

  it('keeps the gains that a requirement gave, and says what is worst', () => {
    const asked = mass({ tuning: { kind: 'requirement', crossover: 4, phaseMargin: 1 } })
    const { worst } = expectDone(answered([weight], 0.2, asked))
    // a requirement met anew would leave exactly what is asked
    expect(worst!.phaseMargin).toBeLessThan(0.99)
    expect(worst!.words).toMatch(/weight.* × (0.8|1.2)/)
  })

  it('says which cases are unstable', () => {
    // what turns the push round turns the loop over
    const { unstable } = expectDone(answered([weight], 1.5))
    expect(unstable).toEqual(['weight × -0.5'])
  })
})
