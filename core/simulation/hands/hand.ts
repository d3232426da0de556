import { choice, name, number } from '../../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'

/** The ways in which a hand is moved. */
export type HandAxis = 'across' | 'up'

/** What moving a hand all the way asks for. */
export interface Moved {
  /** The loop, or the push as cues name it. */
  readonly loop: string
  /** Where in the part stands how much. */
  readonly by: string
  /** As much, or as much more every second. */
  readonly how: 'asks' | 'drives'
}

/** Something that a person moves during a trial. */
export interface Hand<S extends Slots = Slots> extends Kind<S> {
  /** What people call it. */
  readonly label: string
  /** What each axis moves; nothing where cues wait for it, or a number is turned. */
  readonly axes: OfOwn<[hand: PartOf<Kind<S>>], { readonly [axis in HandAxis]?: Moved }>
  /** Whether cues can wait for it: it is pressed or not. */
  readonly isPressed?: true
  /** The gain that it turns, as a share of what it is otherwise. */
  readonly turns?: OfOwn<[hand: PartOf<Kind<S>>], string>
  /** Slots that name keys, and axes or buttons of a game pad, with what each does. */
  readonly keys: readonly HandKey[]
  readonly sticks: readonly { readonly slot: string; readonly axis: HandAxis }[]
}

/** A key, and where it takes a hand. */
export interface HandKey {
  readonly slot: string
  readonly axis: HandAxis
  readonly to: number
}

export function defineHand<const S extends Slots>(hand: Hand<S>): Hand<S> {
  return hand
}

const key = (what: string) => name({ label: `key ${what}`, of: 'text', optional: true })
const stick = (what: string) =>
  number({ label: `axis of the game pad ${what}`, unit: '', least: 1, most: 16, whole: true, optional: true })

/** Slots that hands share. */
export const handSlots = {
  loop: name({ label: 'loop or push', of: 'cued' }),
  by: number({ label: 'most', unit: '' }),
  how: choice({
    label: 'how',
    options: { asks: 'asks for up to', drives: 'drives every second by up to' },
    otherwise: 'asks',
  }),
  goes: choice({ label: 'let go', options: { back: 'goes back', stays: 'stays' }, otherwise: 'back' }),
  over: number({ label: 'time for its whole way', unit: 's', least: 0, most: 60, otherwise: 0.2 }),
  key,
  stick,
  button: number({ label: 'button of the game pad', unit: '', least: 1, most: 32, whole: true, optional: true }),
} as const
