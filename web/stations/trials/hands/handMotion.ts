import type { Part } from '@calm-hand/core/document'
import { findKind, valuesOf } from '@calm-hand/core/kinds'
import { hands as handKinds } from '@calm-hand/core/simulation'
import type { HandAxis } from '@calm-hand/core/simulation'
import { movedKey, touchHand, useLive } from '../../../state/live'

/** Digits of where a hand is: more would be kept of every touch and seen of none. */
const digits = 3

const rounded = (to: number) => Number(Math.min(1, Math.max(-1, to)).toFixed(digits))

/** A number of a hand, which its kind has where its part does not say. */
export function numberOfHand(part: Part, slot: 'over' | 'least' | 'most'): number {
  return valuesOf(findKind(handKinds, part)!, part)[slot] as number
}

/** s that a hand takes for its whole way. */
const wayOf = (part: Part) => numberOfHand(part, 'over')

/** Moves a hand that a person holds to where the pointer or a stick has it: there at once. */
export function moveHand(hand: string, axis: HandAxis, to: number): void {
  const next = rounded(to)
  if (useLive.getState().moved[movedKey(hand, axis)] === next) return
  touchHand({ hand, axis, to: next, over: 0, isHeld: true })
}

/** Moves a hand to an end, in its time: by a key. */
export function pressTowards(hand: string, part: Part, axis: HandAxis, to: number): void {
  touchHand({ hand, axis, to, over: wayOf(part), isHeld: true })
}

/** Lets a hand go: it goes back in its time, or stays where it was put. */
export function letHandGo(hand: string, part: Part, axis: HandAxis): void {
  const at = useLive.getState().moved[movedKey(hand, axis)] ?? 0
  const stays = part.goes === 'stays'
  touchHand({ hand, axis, to: stays ? at : 0, over: stays ? 0 : wayOf(part), isHeld: false })
}

/** Presses a button, or lets it go; a switch takes either and stays. */
export function pressHand(hand: string, isOn: boolean, isHeld: boolean): void {
  touchHand({ hand, axis: 'up', to: isOn ? 1 : 0, over: 0, isHeld })
}

/** Turns a gain to a share of what it is designed to be. */
export function turnHand(hand: string, to: number, isHeld: boolean): void {
  touchHand({ hand, axis: 'up', to: Number(to.toFixed(digits)), over: 0, isHeld })
}
