import type { Scalar } from '../../expression'
import type { Vector } from '../../algebra'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { Water } from './water'
import type { Contradiction, GroundBelow, MechanismLayer } from '../effects/effect'

/** What a part of the surroundings reads: its own numbers, and the time. */
export interface Outside {
  readonly number: (slot: string) => Scalar
  readonly vector: (slot: string) => Vector
  readonly rows: (slot: string) => readonly (readonly Scalar[])[]
  readonly time: Scalar
  /** m/s², downwards. */
  readonly gravity: Scalar
  /** What of it goes on by chance, as it is now: nothing where no trial runs. */
  readonly now: Vector
}

/** Something that goes on by chance from tick to tick of a trial. */
export interface Chance {
  /** How many numbers it remembers; as many standard normal ones come with every tick. */
  readonly memory: number
  readonly start: (outside: Outside, noise: readonly Scalar[]) => readonly Scalar[]
  /** `dt`: s from tick to tick. */
  readonly step: (outside: Outside, memory: readonly Scalar[], noise: readonly Scalar[], dt: number) => readonly Scalar[]
  readonly now: (outside: Outside, memory: readonly Scalar[]) => Vector
}

/** What a scene is lit by; 1 is the light of noon. */
export interface Light {
  /** Towards the sun, world axes, length 1. */
  readonly towards: readonly [number, number, number]
  readonly sun: number
  readonly sky: number
}

/** Something around the machine: one file, one value, in its folder's list. It says one of the five. */
export interface SurroundingKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  /** kg/m³ at a height over the world's origin. */
  readonly density?: (outside: Outside, height: Scalar) => Scalar
  /** m/s in world axes; winds add up. */
  readonly wind?: (outside: Outside, position: Vector) => Vector
  readonly water?: (outside: Outside, x: Scalar, y: Scalar) => Water
  readonly ground?: OfOwn<[outside: Outside, x: Scalar, y: Scalar, part: PartOf<Kind<S>>], GroundBelow>
  /** How it lights what is drawn: nothing that runs sees it. */
  readonly light?: OfOwn<[part: PartOf<Kind<S>>], Light>
  readonly chance?: Chance
  /** What of it can be switched off. */
  readonly layers?: readonly MechanismLayer[]
  readonly contradictions?: OfOwn<[part: PartOf<Kind<S>>], readonly Contradiction[]>
}

export function defineSurrounding<const S extends Slots>(kind: SurroundingKind<S>): SurroundingKind<S> {
  return kind
}
