import { buttonHand } from './buttonHand'
import { dialHand } from './dialHand'
import type { Hand } from './hand'
import { padHand } from './padHand'
import { sliderHand } from './sliderHand'
import { switchHand } from './switchHand'

export type { Hand, HandAxis, HandKey, Moved } from './hand'

/** What a person can move during a trial, in the order in which people see it. */
export const hands: readonly Hand[] = [padHand, sliderHand, buttonHand, switchHand, dialHand]
