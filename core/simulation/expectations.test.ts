import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { typedPart } from '../tests/parts'
import { modelReport } from './index'

/** An unstable zero: pushing forward first moves the tip back (common practice, no source). */
const tail = typedPart(
  { speed: ['0', '-2 * speed + push'], place: ['0', 'speed - 0.1 * place'] },
  { push: 0 },
  { outputs: { tip: 'place - 0.6 * speed', felt: '2 * push', gained: 'push - 2 * speed' } },
)

const checksWith = (expectations: Record<string, object>) =>
  modelReport({ ...tail, expectations } as Part).checks.filter(({ name }) => name.startsWith('More'))

const sign = (way: string, signal: string): object => ({ kind: 'signExpectation', input: 'push', way, signal })

describe('expectations', () => {
  it('hold where a step answers as said, and tell how soon', () => {
    const [check] = checksWith({ one: sign('raises', 'speed') })
    expect(check).toMatchObject({ name: 'More push first raises speed.', holds: true, unit: 's' })
    // a tenth of where 1 - e^-2t ends
    expect(check!.value).toBeNear(-Math.log(0.9) / 2, { relative: 1e-3 })
  })

  it('fail with what happens instead, a start the wrong way named', () => {
    const [wrong, tip] = checksWith({ one: sign('lowers', 'speed'), two: sign('raises', 'tip') })
    expect(wrong).toMatchObject({ holds: false, note: 'it first raises it' })
    expect(tip!.holds).toBe(false)
    expect(tip!.note).toMatch(/first lowers it, and ends the other way: it starts the wrong way/)
  })

  it('see a start the wrong way however short it is beside the rest', () => {
    // 1/(5 s + 1) less 0.6/(0.002 s + 1): down to -0.6 within milliseconds, up to 0.4 in the end
    const dip = typedPart(
      { slow: ['0', '(push - slow) / 5'], quick: ['0', '(push - quick) / 0.002'] },
      { push: 0 },
      { outputs: { seen: 'slow - 0.6 * quick' } },
    )
    const { checks } = modelReport({ ...dip, expectations: { one: sign('raises', 'seen') } } as Part)
    const check = checks.find(({ name }) => name.startsWith('More'))!
    expect(check).toMatchObject({ holds: false })
    expect(check.value).toBeLessThan(0.001)
  })

  it('know what goes straight through, all of it or the first of it', () => {
    const [felt, gained, wrong] = checksWith({
      one: sign('raises', 'felt'),
      two: sign('raises', 'gained'),
      three: sign('lowers', 'felt'),
    })
    expect(felt).toMatchObject({ holds: true, value: 0 })
    expect(gained).toMatchObject({ holds: true, value: 0 })
    expect(wrong).toMatchObject({ holds: false, note: 'it first raises it' })
  })

  it('tell the order of two signals', () => {
    const order = (signal: string, thenSignal: string): object => ({
      kind: 'orderExpectation',
      input: 'push',
      way: 'raises',
      signal,
      thenWay: 'raises',
      thenSignal,
    })
    const [right, reversed] = checksWith({ one: order('speed', 'place'), two: order('place', 'speed') })
    expect(right).toMatchObject({ name: 'More push first raises speed, then raises place.', holds: true })
    expect(right!.note).toMatch(/^speed after .* s, place after .* s$/)
    expect(reversed!.holds).toBe(false)
  })

  it('of things that do not exist name the nearest', () => {
    const [check] = checksWith({ one: sign('raises', 'sped') })
    expect(check).toMatchObject({ holds: false, note: 'there is nothing named sped; did you mean speed?' })
  })
})
