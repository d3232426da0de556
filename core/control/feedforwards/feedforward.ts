import type { Scalar } from '../../expression'
import { number, toggle } from '../../kinds'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { StateSpace } from '../../linear'

/** A reference with its first two derivatives in time. */
export type Motion = readonly [value: Scalar, rate: Scalar, acceleration: Scalar]

export interface ForwardInputs {
  /** What is asked, from where the machine rests. */
  readonly asked: Motion
  /** The same as it is. */
  readonly absolute: Motion
  /** Whether what is held has a rate of its own: a position, not a speed. */
  readonly isPosition: boolean
  /** The push that holds the machine at its operating point. */
  readonly holding: Scalar
  /** The push by the machine's own equations on the references of all its loops: with their motion, or as if they stood still there. */
  readonly inverse: (moving: boolean) => Scalar
  /** How far a signal is from where it rests, as the loop reads it. */
  readonly away: (signal: string) => Scalar
  /** s */
  readonly dt: number
}

/** How much a feedforward must know. */
export type ForwardNeeds = 'reference' | 'derivatives' | 'equations' | 'linearPlant'

/** What a command carries beforehand, so that feedback need not find it out. */
export interface Feedforward<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  readonly needs: ForwardNeeds
  /** Whether what holds the machine at rest is in it: two of them would carry it twice. */
  readonly carriesRest?: true
  /**
   * The command of one sample and what to remember, in the unit of the push. `read` gives its numbers, `plant` gives the
   * linear machine between push and what is held, its lags left out.
   */
  readonly command: OfOwn<
    [
      inputs: ForwardInputs,
      memory: readonly Scalar[],
      read: (slot: string) => Scalar,
      part: PartOf<Kind<S>>,
      plant: () => StateSpace,
    ],
    { readonly command: Scalar; readonly memory: readonly Scalar[] }
  >
  /** How many numbers it remembers from sample to sample; all start at 0. */
  readonly remembers?: (plant: () => StateSpace) => number
  /** What it cannot do with this plant, in words with a remedy. */
  readonly refusal?: (plant: () => StateSpace) => { readonly what: string; readonly remedy: string } | undefined
}

export function defineFeedforward<const S extends Slots>(kind: Feedforward<S>): Feedforward<S> {
  return kind
}

/** Every feedforward has a switch and a scale. */
export const forwardSlots = {
  on: toggle({ label: 'switch' }),
  scale: number({ label: 'share', unit: '', least: 0, most: 3 }),
} as const
