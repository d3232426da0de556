import { useEffect, useState } from 'react'
import type { Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { hands as handKinds } from '@calm-hand/core/simulation'
import type { HandAxis } from '@calm-hand/core/simulation'
import { movedKey, pauseLive, useLive } from '../../../state/live'
import { letHandGo, moveHand, pressHand } from './handMotion'

/** A game pad as the browser tells of it. */
export interface PadSeen {
  readonly axes: readonly number[]
  readonly pressed: readonly boolean[]
}

/** A stick this near its middle is let go; a change smaller than this is none. */
const [still, grain] = [0.1, 0.02]

export function firstPad(): PadSeen | undefined {
  const pad = (navigator.getGamepads?.() ?? []).find((one) => one !== null)
  return pad == null ? undefined : { axes: [...pad.axes], pressed: pad.buttons.map(({ pressed }) => pressed) }
}

/** Follows the first game pad while a trial is in hand, and tells what it has. */
export function useGamePad(hands: Readonly<Record<string, Part>>, isOn: boolean): PadSeen | undefined {
  const [seen, setSeen] = useState<PadSeen>()
  useEffect(() => {
    if (!isOn) return
    let frame = 0
    let before: PadSeen | undefined
    const look = () => {
      const pad = firstPad()
      if (pad !== undefined) {
        followPad(hands, pad, before)
        if (before === undefined || isOther(pad, before)) setSeen(pad)
      } else if (before !== undefined) {
        lost(hands, before)
        setSeen(undefined)
      }
      before = pad
      frame = requestAnimationFrame(look)
    }
    look()
    return () => cancelAnimationFrame(frame)
  }, [hands, isOn])
  return isOn ? seen : undefined
}

function isOther(a: PadSeen, b: PadSeen): boolean {
  return (
    a.axes.some((value, i) => Math.abs(value - (b.axes[i] ?? 0)) > grain) || a.pressed.some((value, i) => value !== b.pressed[i])
  )
}

interface Stick {
  readonly name: string
  readonly part: Part
  readonly axis: HandAxis
  readonly at: number
}

/** Hands that hang on an axis of a game pad. */
function sticksOf(hands: Readonly<Record<string, Part>>): readonly Stick[] {
  return Object.entries(hands).flatMap(([name, part]) =>
    (findKind(handKinds, part)?.sticks ?? []).flatMap(({ slot, axis }) =>
      typeof part[slot] === 'number' ? [{ name, part, axis, at: part[slot] - 1 }] : [],
    ),
  )
}

/** Moves and presses what hangs on a game pad, by what changed of it. */
export function followPad(hands: Readonly<Record<string, Part>>, pad: PadSeen, before: PadSeen | undefined): void {
  for (const { name, part, axis, at } of sticksOf(hands)) {
    // sticks tell down as more
    const sign = axis === 'up' ? -1 : 1
    const [now, was] = [pad.axes[at] ?? 0, before?.axes[at] ?? 0]
    if (Math.abs(now) > still && Math.abs(now - was) > grain) moveHand(name, axis, sign * now)
    else if (Math.abs(now) <= still && Math.abs(was) > still) letHandGo(name, part, axis)
  }
  for (const [name, part] of Object.entries(hands)) {
    if (typeof part.button !== 'number') continue
    const [now, was] = [pad.pressed[part.button - 1] === true, before?.pressed[part.button - 1] === true]
    if (now === was) continue
    if (part.kind !== 'switchHand') pressHand(name, now, now)
    else if (now) pressHand(name, useLive.getState().moved[movedKey(name, 'up')] !== 1, false)
  }
}

/** A game pad that was pulled out lets go of everything it held, and the run waits. */
function lost(hands: Readonly<Record<string, Part>>, before: PadSeen): void {
  followPad(hands, { axes: before.axes.map(() => 0), pressed: before.pressed.map(() => false) }, before)
  pauseLive('The game pad is gone: its hands were let go. Plug it in again, or go on with pointer and keys.')
}

/** Waits for the next stick or button that is moved; gives its number, from 1. */
export function heardFrom(before: PadSeen | undefined, sort: 'axis' | 'button'): number | undefined {
  const pad = firstPad()
  if (pad === undefined) return undefined
  const at =
    sort === 'axis'
      ? pad.axes.findIndex((value, i) => Math.abs(value) > 0.6 && Math.abs(before?.axes[i] ?? 0) < 0.6)
      : pad.pressed.findIndex((value, i) => value && before?.pressed[i] !== true)
  return at < 0 ? undefined : at + 1
}
