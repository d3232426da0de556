import type { Part } from '../document'

/** A robot description as its file says it: URDF, http://wiki.ros.org/urdf/XML (from memory). SI, radians. */
export interface Robot {
  readonly name: string
  readonly links: readonly RobotLink[]
  readonly joints: readonly RobotJoint[]
}

export interface RobotOrigin {
  readonly xyz: readonly number[]
  /** Turns about fixed x, then y, then z. */
  readonly rpy: readonly number[]
}

export interface RobotLink {
  readonly name: string
  readonly mass: number
  /** In link axes. */
  readonly centre: readonly number[]
  /** xx, yy, zz, xy, xz, yz about the centre of mass, in link axes. */
  readonly inertia: readonly number[]
  readonly visuals: readonly RobotGeometry[]
  readonly collisions: readonly RobotGeometry[]
}

export interface RobotGeometry {
  readonly origin: RobotOrigin
  readonly shape: Part
}

export type RobotJointType = 'revolute' | 'continuous' | 'prismatic' | 'fixed' | 'floating' | 'planar'

export interface RobotJoint {
  readonly name: string
  readonly type: RobotJointType
  readonly parent: string
  readonly child: string
  readonly origin: RobotOrigin
  readonly axis: readonly number[]
  readonly limit?: { readonly lower: number; readonly upper: number; readonly effort: number; readonly velocity: number }
  readonly mimic?: { readonly joint: string; readonly multiplier: number; readonly offset: number }
  readonly damping: number
  readonly friction: number
}
