// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import type { Part } from '@calm-hand/core/document'
import { useLive } from '../../../state/live'
import { letHandGo, moveHand, pressHand } from './handMotion'
import { followPad, heardFrom } from './useGamePad'
import { boundKeys, keyNamed } from './useHandKeys'

const boom = { kind: 'padHand', goes: 'back', left: 'ArrowLeft', right: 'ArrowRight', stick: 1, stickUp: 2 } as Part
const pedal = { kind: 'sliderHand', goes: 'stays', more: 'w', stick: 3 } as Part
const line = { kind: 'buttonHand', key: 't', button: 1 } as Part
const light = { kind: 'switchHand', key: 'l', button: 2 } as Part
const hands = { boom, pedal, line, light }
const moved = () => useLive.getState().moved

beforeEach(() => useLive.setState({ moved: {} }))
afterEach(() => Reflect.deleteProperty(navigator, 'getGamepads'))

describe('hands', () => {
  it('go where they are moved, within their ends, and back or not where they are let go', () => {
    moveHand('boom', 'across', 0.123456)
    moveHand('pedal', 'up', 7)
    expect(moved()).toEqual({ 'boom across': 0.123, 'pedal up': 1 })
    letHandGo('boom', boom, 'across')
    letHandGo('pedal', pedal, 'up')
    expect(moved()).toEqual({ 'boom across': 0, 'pedal up': 1 })
  })

  it('have the keys that their parts name', () => {
    const keys = boundKeys(hands)
    expect([...keys.keys()]).toEqual(['ArrowLeft', 'ArrowRight', 'w', 't', 'l'])
    expect(keys.get('ArrowLeft')).toMatchObject({ hand: 'boom', axis: 'across', to: -1, sort: 'moves' })
    expect(keys.get('l')).toMatchObject({ hand: 'light', sort: 'switches' })
    expect(['A', ' ', 'ArrowUp'].map((key) => keyNamed({ key }))).toEqual(['a', 'Space', 'ArrowUp'])
  })
})

describe('a game pad', () => {
  const pad = (axes: readonly number[], pressed: readonly boolean[]) => ({ axes, pressed })
  const still = pad([0, 0, 0], [false, false])

  it('moves what hangs on its sticks, up where they are pushed away, and lets it go near the middle', () => {
    followPad(hands, pad([0.5, 0.8, 0], [false, false]), still)
    expect(moved()).toEqual({ 'boom across': 0.5, 'boom up': -0.8 })
    followPad(hands, pad([0.05, 0.8, 0], [false, false]), pad([0.5, 0.8, 0], [false, false]))
    expect(moved()).toEqual({ 'boom across': 0, 'boom up': -0.8 })
  })

  it('presses buttons while they are down, and turns switches over', () => {
    const down = pad([0, 0, 0], [true, true])
    followPad(hands, down, still)
    expect(moved()).toEqual({ 'line up': 1, 'light up': 1 })
    followPad(hands, still, down)
    expect(moved()).toEqual({ 'line up': 0, 'light up': 1 })
    followPad(hands, down, still)
    expect(moved()).toMatchObject({ 'light up': 0 })
  })

  it('that is pulled out lets go of all that it held', () => {
    const held = pad([0.9, 0, -0.4], [true, false])
    followPad(hands, held, undefined)
    pressHand('light', true, false)
    followPad(hands, still, held)
    expect(moved()).toEqual({ 'boom across': 0, 'pedal up': 0.4, 'line up': 0, 'light up': 1 })
  })

  it('is heard by the axis or button that moved first', () => {
    const seen = (axes: readonly number[], pressed: readonly boolean[]) =>
      Object.defineProperty(navigator, 'getGamepads', {
        ...{ configurable: true, value: () => [null, { axes, buttons: pressed.map((one) => ({ pressed: one })) }] },
      })
    expect(heardFrom(undefined, 'axis')).toBeUndefined()
    seen([0, 0.9, 0], [false, true])
    expect(heardFrom(still, 'axis')).toBe(2)
    expect(heardFrom(still, 'button')).toBe(2)
    expect(heardFrom(pad([0, 0.9, 0], [false, true]), 'axis')).toBeUndefined()
  })
})
