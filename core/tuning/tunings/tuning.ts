import type { Kind, OfOwn, Slots, ValuesOf } from '../../kinds'
import type { Reaction, Swing } from '../experiments'
import type { LoopModel } from '../loopModel'
import type { OutOfReach, Tuned } from '../tune'

/** What a loop is now, from which another tuning of it starts; what it does not have is left out. */
export interface TuningStart {
  /** rad/s */
  readonly crossover?: number | undefined
  /** rad */
  readonly phaseMargin?: number | undefined
  /** Its gains as a tuning that types them. */
  readonly typed?: Readonly<Record<string, unknown>> | undefined
  /** Closed-loop poles, rad/s: real and imaginary parts. */
  readonly poles?: readonly (readonly number[])[] | undefined
  /** Deviations that would be noticed, of what is held and of each signal fed back. */
  readonly deviations: readonly number[]
  /** A push that the machine would feel. */
  readonly push: number
}

/** A number of a tuning that a drag of the loop's crossover turns: for w rad/s it is to be scale w^power. */
export interface Turn {
  readonly slot: string
  readonly scale: number
  readonly power: number
}

/** A way to the gains of a loop. */
export interface Tuning<S extends Slots = Slots> extends Kind<S> {
  /** Where gains come from, in words. */
  readonly how: string
  /** The sentence where the rest stands beside it; `says` without. */
  readonly inShort?: string
  /** Laws of which gains it gives: on the error, its integral and rate, or on signals fed back. */
  readonly suits: 'errorGains' | 'signalGains' | 'both'
  readonly gains: OfOwn<[model: LoopModel, asked: ValuesOf<Kind<S>>], Tuned>
  /** What it asks for at first. */
  readonly starts: (now: TuningStart) => Readonly<Record<string, unknown>>
  readonly turns?: OfOwn<[asked: ValuesOf<Kind<S>>, crossover: number | undefined], Turn | undefined>
  /** Why nothing turns the crossover, where that is more than that it follows from what the loop is designed by. */
  readonly stays?: string
  /** What an experiment on the linear model shows. */
  readonly shows?: OfOwn<[model: LoopModel, asked: ValuesOf<Kind<S>>], Swing | Reaction | OutOfReach>
}

export function defineTuning<const S extends Slots>(kind: Tuning<S>): Tuning<S> {
  return kind
}
