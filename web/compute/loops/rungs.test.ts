import { describe, expect, it } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import type { Document } from '@calm-hand/core/document'
import { demo, lamplighter } from '../../../core/tests/demo'
import { valueAt } from '../../stations/loops/ladder/rungs'
import { rungsOf } from './rungs'

const heightRung = (document: Document) => rungsOf(document, 'lamplighter').find(({ name }) => name === 'height')!

describe('rungs', () => {
  it('of a requirement turn its crossover', () => {
    const { handle, stays, crossover } = heightRung(lamplighter())
    expect(stays).toBeUndefined()
    expect(handle?.path).toBe('loops.height.tuning.crossover')
    const quicker = replaceAt<Document>(lamplighter(), handle!.path, valueAt(handle!, 1.2 * crossover!))
    expect(heightRung(quicker).crossover).toBeCloseTo(1.2 * crossover!, 2)
  })

  it('without gains say what is in the way, be it another loop', () => {
    const greedy = replaceAt<Document>(demo('lamplighter'), 'loops.climbRate.tuning.crossover', 900)
    const rungs = new Map(rungsOf(greedy, 'lamplighter').map((rung) => [rung.name, rung]))
    expect(rungs.get('climbRate')!.lacks!.words).toContain('lies above half the sample rate')
    expect(rungs.get('height')!.lacks).toEqual({ words: 'waits for climb rate, which has no gains.', isOwn: false })
    expect(rungs.get('yawRate')!.lacks).toBeUndefined()
  })

  it('of typed gains stay, and say why', () => {
    const typed = replaceAt<Document>(lamplighter(), 'loops.height.tuning', { kind: 'typedGains', kp: 40, kd: 30 })
    expect(heightRung(typed)).toMatchObject({ handle: undefined, stays: 'its gains are typed' })
  })
})
