import type { Scalar } from '../../expression'
import type { Placement, Spatial, Vector } from '../../algebra'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'

/** A body as chains see it, in world axes. */
export interface BodyView {
  readonly name: string
  readonly pose: Placement
  /** Columns of the velocity (angular, of the body's origin) by speed. */
  readonly jacobian: readonly Spatial[]
  readonly angular: Vector
  readonly linear: Vector
  /** Accelerations at zero change of the speeds: angular, and of the body's origin. */
  readonly angularBias: Vector
  readonly linearBias: Vector
}

/** One equation that the positions must keep: gap = 0. */
export interface ChainRow {
  readonly gap: Scalar
  /** Its time derivative. */
  readonly rate: Scalar
  /** d(rate)/d(speeds). */
  readonly jacobian: readonly Scalar[]
  /** Its second time derivative at zero change of the speeds. */
  readonly bias: Scalar
  readonly unit: 'm' | 'rad' | ''
  /** What a reaction of 1 does to bodies, world axes; nothing where it acts in joints. */
  readonly acts: readonly ChainAct[]
}

export interface ChainAct {
  readonly body: string
  readonly at: Vector
  readonly force: Vector
  readonly moment: Vector
}

export interface ChainScene {
  readonly body: (name: string) => BodyView
  readonly vector: (slot: string) => Vector
  readonly number: (slot: string) => Scalar
  /** Index and value of a coordinate that is a position of one freedom. */
  readonly coordinate: (name: string) => { readonly position: Scalar; readonly speed: Scalar; readonly index: number }
  readonly speeds: number
}

/** What closes a chain of bodies, or couples two joints: one file, one value, in its folder's list. */
export interface ChainKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  readonly rows: OfOwn<[scene: ChainScene, part: PartOf<Kind<S>>], readonly ChainRow[]>
}

export function defineChain<const S extends Slots>(kind: ChainKind<S>): ChainKind<S> {
  return kind
}
