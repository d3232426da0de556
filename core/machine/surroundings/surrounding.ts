import type { Scalar } from '../../expression'
import type { Vector } from '../../algebra'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { Contradiction, GroundBelow, MechanismLayer } from '../effects/effect'

/** What a part of the surroundings reads: its own numbers, and the time. */
export interface Outside {
  readonly number: (slot: string) => Scalar
  readonly vector: (slot: string) => Vector
  readonly rows: (slot: string) => readonly (readonly Scalar[])[]
  readonly time: Scalar
}

/** Something around the machine: one file, one value, in its folder's list. It says one of the three. */
export interface SurroundingKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  /** kg/m³ at a height over the world's origin. */
  readonly density?: (outside: Outside, height: Scalar) => Scalar
  /** m/s in world axes; winds add up. */
  readonly wind?: (outside: Outside, position: Vector) => Vector
  readonly ground?: OfOwn<[outside: Outside, x: Scalar, y: Scalar, part: PartOf<Kind<S>>], GroundBelow>
  /** What of it can be switched off. */
  readonly layers?: readonly MechanismLayer[]
  readonly contradictions?: OfOwn<[part: PartOf<Kind<S>>], readonly Contradiction[]>
}

export function defineSurrounding<const S extends Slots>(kind: SurroundingKind<S>): SurroundingKind<S> {
  return kind
}
