import { describe, expect, it } from 'vitest'
import { replaceAt } from '@calm-hand/core/document'
import { designLoop } from '@calm-hand/core/tuning'
import { lamplighter } from '../../../core/tests/demo'
import { answerOf, askedOf } from './asked'

describe('what is charted of a trial', () => {
  const off = { kind: 'switchCue', loop: 'height', at: 2, turned: 'off' }
  const document = replaceAt(lamplighter(), 'trials.galleryRise.cues.off', off)
  const outcome = designLoop(document, 'height')
  if (outcome.kind === 'refused') throw new Error('The demo has a design.')
  const asked = askedOf(document, 'height', { trial: 'galleryRise', stepSize: 1, stepAt: 1, disturbance: undefined })
  const pushes = (choice: Parameters<typeof answerOf>[3]) => {
    const { t, push } = answerOf(outcome.value, asked, 6, choice)
    return (time: number) => push[t.findIndex((one) => one >= time - 1e-9)]!
  }
  const weight = outcome.value.nominalPush

  it('follows feedback that the trial switches', () => {
    const push = pushes({ feedback: true, feedforward: undefined })
    expect(push(1.2)).toBeGreaterThan(weight + 5)
    for (const time of [2.1, 4]) expect(push(time)).toBeCloseTo(weight, 9)
  })

  it('stays without feedback in a comparison that leaves it out', () => {
    const push = pushes({ feedback: false, feedforward: true })
    for (const time of [1.2, 4]) expect(push(time)).toBeCloseTo(weight, 9)
  })
})
