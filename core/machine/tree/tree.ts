import type { Scalar } from '../../expression'
import type { Placement, RigidInertia, Spatial, Vector } from '../../algebra'
import type { JointMotion } from '../joints/joint'

export interface TreeBody {
  readonly name: string
  /** Index of the body it hangs on, smaller than its own; -1 for ground. */
  readonly parent: number
  /** Where the joint's near frame lies on the parent. */
  readonly place: Placement
  readonly joint: JointMotion
  /** How many positions and speeds the joint has. */
  readonly positions: number
  readonly speeds: number
  /** In the body's frame, which is the joint's far frame. */
  readonly inertia: RigidInertia
  /** Inertia of rotors geared to the joint, one a speed: it resists the joint's own acceleration and nothing else. */
  readonly armature?: readonly Scalar[]
}

/**
 * Bodies on joints from ground upward, after Featherstone, Rigid Body Dynamics Algorithms, 2008, ch. 4. Everything is
 * over numbers or expressions alike. Gravity is in world axes, m/s².
 */
export interface Tree {
  readonly bodies: readonly TreeBody[]
  readonly gravity: Vector
  /** What is fixed to ground, about the world's origin: it moves nowhere, and counts in mass and centre. */
  readonly fixed?: RigidInertia
}

/** Positions and speeds of all joints, in the order of the bodies. */
export interface TreeState {
  readonly q: readonly Scalar[]
  readonly speeds: readonly Scalar[]
}

/** Forces on bodies, each in the axes of its body about its origin; nothing where there is none. */
export type BodyForces = readonly (Spatial | undefined)[]

export function positionCount({ bodies }: Tree): number {
  return bodies.reduce((total, body) => total + body.positions, 0)
}

export function speedCount({ bodies }: Tree): number {
  return bodies.reduce((total, body) => total + body.speeds, 0)
}

/** The part of a flat list that belongs to each body. */
export function byBody<Value>({ bodies }: Tree, count: 'positions' | 'speeds', values: readonly Value[]): (readonly Value[])[] {
  let at = 0
  return bodies.map((body) => values.slice(at, (at += body[count])))
}
