import { useRef } from 'react'
import type { Part } from '@calm-hand/core/document'
import { findKind } from '@calm-hand/core/kinds'
import { hands as handKinds } from '@calm-hand/core/simulation'
import type { HandAxis } from '@calm-hand/core/simulation'
import { movedKey, useLive } from '../../../state/live'
import { letHandGo, numberOfHand, pressHand, pressTowards, turnHand } from './handMotion'

/** How a key is called in the document: `a`, `ArrowLeft`, `Space`. */
export function keyNamed({ key }: { readonly key: string }): string {
  return key === ' ' ? 'Space' : key.length === 1 ? key.toLowerCase() : key
}

interface Bound {
  readonly hand: string
  readonly part: Part
  readonly axis: HandAxis
  readonly to: number
  readonly sort: 'moves' | 'presses' | 'switches' | 'turns'
}

/** The keys of a trial's hands. */
export function boundKeys(hands: Readonly<Record<string, Part>>): ReadonlyMap<string, Bound> {
  const all = Object.entries(hands).flatMap(([hand, part]): [string, Bound][] => {
    const kind = findKind(handKinds, part)
    const sort =
      part.kind === 'switchHand' ? 'switches' : kind?.isPressed ? 'presses' : kind?.turns === undefined ? 'moves' : 'turns'
    return (kind?.keys ?? []).flatMap(({ slot, axis, to }): [string, Bound][] => {
      const key = part[slot]
      return typeof key === 'string' && key !== '' ? [[key, { hand, part, axis, to, sort }]] : []
    })
  })
  return new Map(all)
}

/** How far a key turns a dial. */
const turned = 0.1

/** Keys that move hands, where the panel has the focus. */
export function useHandKeys(hands: Readonly<Record<string, Part>>, isOn: boolean) {
  const down = useRef(new Map<string, Bound>())
  const letGo = ({ hand, part, axis, sort }: Bound) => {
    if (sort === 'presses') pressHand(hand, false, false)
    if (sort !== 'moves') return
    // the other key of the same way may still be down
    const other = [...down.current.values()].find((one) => one.hand === hand && one.axis === axis)
    if (other === undefined) letHandGo(hand, part, axis)
    else pressTowards(hand, part, axis, other.to)
  }
  const press = ({ hand, part, axis, to, sort }: Bound) => {
    const { moved } = useLive.getState()
    const at = moved[movedKey(hand, axis)]
    if (sort === 'moves') pressTowards(hand, part, axis, to)
    if (sort === 'presses') pressHand(hand, true, true)
    if (sort === 'switches') pressHand(hand, !(at === 1), false)
    if (sort === 'turns') {
      const [least, most] = [numberOfHand(part, 'least'), numberOfHand(part, 'most')]
      turnHand(hand, Math.min(most, Math.max(least, (at ?? 1) + to * turned)), false)
    }
  }
  return {
    onKeyDown: (event: React.KeyboardEvent) => {
      const typing = event.target instanceof HTMLInputElement && event.target.type !== 'range'
      const bound = isOn && !typing && !event.ctrlKey && !event.metaKey ? boundKeys(hands).get(keyNamed(event)) : undefined
      if (bound === undefined) return
      event.preventDefault()
      event.stopPropagation()
      if (event.repeat && bound.sort !== 'turns') return
      down.current.set(keyNamed(event), bound)
      press(bound)
    },
    onKeyUp: (event: React.KeyboardEvent) => {
      const bound = down.current.get(keyNamed(event))
      if (bound === undefined) return
      down.current.delete(keyNamed(event))
      letGo(bound)
    },
    /** What the keyboard held goes where it goes when it is let go. */
    onBlur: (event: React.FocusEvent) => {
      if (event.currentTarget.contains(event.relatedTarget)) return
      const held = [...down.current.values()]
      down.current.clear()
      for (const bound of held) letGo(bound)
    },
  }
}
