import { describe, expect, it } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { demo } from '../../core/tests/demo'
import { mapKey } from './calmMaps'

const derrick = demo('derrick')
const keyOf = (document: Document, loop: string) => mapKey(document, loop, 0.1)

describe('the calm map of a loop', () => {
  it('is another one once a loop that its design sees closed is retuned', () => {
    const seen = replaceAt<Document>(derrick, 'loops.hoist.others', 'before')
    const quicker = replaceAt<Document>(seen, 'loops.luff.tuning', { kind: 'typedGains', kp: 1, ki: 0, kd: 0 })
    expect(keyOf(quicker, 'hoist')).not.toBe(keyOf(seen, 'hoist'))
    // with the others at rest it does not matter how they are tuned
    const alone = replaceAt<Document>(derrick, 'loops.hoist.others', 'rest')
    const other = replaceAt<Document>(alone, 'loops.luff.tuning', { kind: 'typedGains', kp: 1, ki: 0, kd: 0 })
    expect(keyOf(other, 'hoist')).toBe(keyOf(alone, 'hoist'))
  })

  it('is another one once an estimator is, and the same wherever its own design stands', () => {
    const path = `estimators.${Object.keys(derrick.estimators)[0]!}.disturbance`
    expect(keyOf(replaceAt<Document>(derrick, path, 123), 'slew')).not.toBe(keyOf(derrick, 'slew'))
    const moved = replaceAt<Document>(derrick, 'loops.luff.tuning.crossover', 2)
    expect(keyOf(moved, 'luff')).toBe(keyOf(derrick, 'luff'))
  })
})
