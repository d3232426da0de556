import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { replaceAt } from '../document'
import type { Document } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import { typedPart } from '../tests/parts'
import { analyse, designLoop, retuned, staleLoops, takenOver } from './index'

const checked = (document: Document) => expectDone(checkDocument(document)).resolved
const cart = typedPart(
  { speed: ['0', '-drag * speed + 40 * push'], place: ['0', 'speed'] },
  { push: 0 },
  { constants: { drag: 8 } },
)
const asked = checked(
  oneMachine(cart, {
    speed: {
      ...{ holds: 'speed', pushes: 'push', reference: 'command', law: { kind: 'proportionalIntegral' }, rate: 200 },
      tuning: { kind: 'requirement', crossover: 20, phaseMargin: 1.1 },
    },
    place: { holds: 'place', pushes: 'loops.speed', rate: 200, tuning: { kind: 'requirement', crossover: 4, phaseMargin: 1 } },
  }),
)
const judged = (document: Document, name: string) => {
  const design = expectDone(designLoop(document, name))
  return { design, analysis: analyse(design.model, design.gains) }
}
/** Both loops with their gains taken over. */
const typed = Object.keys(asked.loops).reduce((now, name) => {
  const { design, analysis } = judged(asked, name)
  return replaceAt(now, `loops.${name}.tuning`, takenOver(design, analysis))
}, asked)

describe('typed gains that remember what they were made for', () => {
  it('are where they were meant to be at first', () => {
    expect(staleLoops(typed)).toEqual([])
    expect(staleLoops(asked)).toEqual([])
  })

  it('are stale once the machine changes, and outer ones once an inner loop does', () => {
    const heavier = checked(replaceAt(typed, 'machines.m.states.speed.rate', '-drag * speed + 25 * push'))
    expect(staleLoops(heavier).map(({ name }) => name)).toEqual(['speed', 'place'])
    // an inner loop that is typed anew is as its engineer wants it; what lies outside of it is not
    const slower = checked(replaceAt(typed, 'loops.speed.tuning.kp', 0.15))
    const [outer, ...more] = staleLoops(slower)
    expect([outer!.name, more]).toEqual(['place', []])
    expect(outer!.now!.phaseMargin).toBeLessThan(outer!.meant.phaseMargin)
  })

  it('come back to it with one action, inner loops first', () => {
    const heavier = checked(replaceAt(typed, 'machines.m.states.speed.rate', '-drag * speed + 25 * push'))
    const { document, done, beyond } = retuned(heavier, ['place', 'speed'])
    expect([done, beyond]).toEqual([['speed', 'place'], []])
    expect(staleLoops(document)).toEqual([])
    const { analysis } = judged(document, 'speed')
    expect(analysis.crossover).toBeNear(20, { relative: 1e-9 })
    expect(analysis.phaseMargin).toBeNear(1.1, { relative: 1e-9 })
  })

  it('stay, with the reason, where it is out of reach', () => {
    const slow = checked(replaceAt(replaceAt(typed, 'loops.speed.rate', 12), 'loops.place.rate', 12))
    const { document, beyond } = retuned(slow, ['speed'])
    expect(beyond.map(({ name }) => name)).toEqual(['speed'])
    expect(beyond[0]!.what.length).toBeGreaterThan(10)
    expect(document.loops.speed).toEqual(slow.loops.speed)
  })
})
