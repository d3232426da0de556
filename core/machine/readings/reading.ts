import type { Scalar } from '../../expression'
import type { Vector } from '../../algebra'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { HeldQuantity } from '../held'
import type { Sight } from '../sight'

/** What a reading can see of the machine. World axes unless said. */
export interface View extends Sight {
  readonly gravity: Vector
  /** The angular velocity of a body. */
  readonly turning: (body: string) => Vector
}

/** One value of a reading: its name is empty where there is one only, and it names others of the same reading by theirs. */
export type ReadValue = HeldQuantity

/**
 * What people and loops look at of a machine: its true value at every moment, without the errors of a sensor. Loops may hold
 * it, charts watch it, and it is an output of the exact linear form.
 */
export interface ReadingKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  /** The body whose reading it is, by its slot; its name tells readings of one sort apart. */
  readonly owner?: string
  readonly values: OfOwn<[part: PartOf<Kind<S>>], readonly ReadValue[]>
  /** In the same order. */
  readonly reads: OfOwn<[view: View, part: PartOf<Kind<S>>], readonly Scalar[]>
}

export function defineReading<const S extends Slots>(kind: ReadingKind<S>): ReadingKind<S> {
  return kind
}
