import type { Scalar } from '../../expression'
import type { Placement, Spatial, Vector } from '../../algebra'
import type { Kind, Slots } from '../../kinds'
import type { AngleSort } from '../held'
import type { placeSlots } from './slots'

export interface Coordinate {
  readonly name: string
  readonly unit: string
  /** For angles. */
  readonly angle?: AngleSort
}

/** The motion that a joint allows, for one direction of its axis. Angles in rad, lengths in m. */
export interface JointMotion {
  /** Where the far frame (the body's) lies in the near frame, for these positions. */
  readonly pose: (q: readonly Scalar[]) => Placement
  /** One motion a speed, in far axes: Featherstone's S, 2008, table 4.1. */
  readonly subspace: (q: readonly Scalar[]) => readonly Spatial[]
  /** What S changing with the positions adds to the acceleration, in far axes; left out where S is constant. */
  readonly bias?: (q: readonly Scalar[], speeds: readonly Scalar[]) => Spatial
  /** Time derivatives of the positions. */
  readonly rates: (q: readonly Scalar[], speeds: readonly Scalar[]) => readonly Scalar[]
}

/** A sort of joint. Its positions and speeds differ in number only where a quaternion stands for a turn. */
export interface JointKind<S extends Slots = Slots> extends Kind<S & typeof placeSlots> {
  readonly label: string
  readonly positions: readonly Coordinate[]
  readonly speeds: readonly Coordinate[]
  /** Whether each position is the integral of the speed of the same place. */
  readonly goInPairs: boolean
  /** Whether its first four positions are a unit quaternion, and its first three speeds turn about axes of the body. */
  readonly hasAttitude?: true
  /** Positions of the machine as it was drawn. */
  readonly rest: readonly number[]
  /** Which slots are axes: unit vectors by the time `motion` is called. */
  readonly axes: readonly string[]
  readonly motion: (axes: Readonly<Record<string, Vector>>) => JointMotion
}

export function defineJoint<const S extends Slots>(kind: JointKind<S>): JointKind<S> {
  return kind
}
