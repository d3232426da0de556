import type { Scalar } from '../../expression'
import type { Vector } from '../../algebra'
import type { Part } from '../../document'
import type { Kind } from '../../kinds'

/** A point of a body, seen from the world. */
export interface PointMotion {
  readonly position: Vector
  readonly velocity: Vector
}

/** One coordinate of a joint: `boom.angle`. */
export interface CoordinateMotion {
  readonly position: Scalar
  readonly speed: Scalar
}

/** What a force or drive sees of the machine, and where it puts what it does. World axes. */
export interface Scene {
  /** A number of the part, by slot. */
  readonly number: (slot: string) => Scalar
  readonly point: (body: string, at: Vector) => PointMotion
  readonly vector: (slot: string) => Vector
  readonly coordinate: (name: string) => CoordinateMotion
  /** The part's own states and input, where it has them. */
  readonly states: readonly Scalar[]
  readonly input: Scalar
  readonly push: (body: string, at: Vector, force: Vector) => void
  readonly effort: (coordinate: string, effort: Scalar) => void
  readonly has: (layer: MechanismLayerName) => boolean
}

/** What an effect leaves besides its pushes. */
export interface Acted {
  /** Time derivatives of its own states. */
  readonly rates?: readonly Scalar[]
  /** Energy it keeps and can give back, J. */
  readonly stored?: Scalar
  /** Power that it takes out for good, W, never negative; `supplied` is what comes in through its input, W. */
  readonly dissipated?: Scalar
  readonly supplied?: Scalar
  /** Shown and recorded: name to value, with its unit. */
  readonly signals?: readonly { readonly name: string; readonly label: string; readonly unit: string; readonly value: Scalar }[]
}

export interface EffectState {
  readonly name: string
  readonly unit: string
}

/** A force or drive: one file, one value, in its folder's list. */
export interface EffectKind extends Kind {
  readonly label: string
  readonly states?: readonly EffectState[]
  /** What can be asked of it from outside. */
  readonly input?: { readonly label: string; readonly unit: string }
  readonly act: (scene: Scene, part: Part) => Acted
}

export type MechanismLayerName = 'friction' | 'stops' | 'driveLimits' | 'driveDynamics' | 'air' | 'contact'

export interface MechanismLayer {
  readonly name: MechanismLayerName
  readonly label: string
  readonly standIn: string
  readonly inDesign: boolean
}

/** Effects of a mechanism that can be switched off as a whole, in the order people see. */
export const mechanismLayers: readonly MechanismLayer[] = [
  { name: 'friction', label: 'Friction', standIn: 'joints move freely', inDesign: false },
  { name: 'stops', label: 'Stops', standIn: 'joints have no ends', inDesign: false },
  { name: 'driveLimits', label: 'Drive limits', standIn: 'any effort is given', inDesign: false },
  { name: 'driveDynamics', label: 'Drive dynamics', standIn: 'drives give what is asked at once', inDesign: true },
  { name: 'air', label: 'Air', standIn: 'the air does not resist', inDesign: false },
  { name: 'contact', label: 'Contact', standIn: 'feet pass through the ground', inDesign: true },
]

export type MechanismLayers = ReadonlySet<MechanismLayerName>
export const fullMechanism: MechanismLayers = new Set(mechanismLayers.map(({ name }) => name))
export const designMechanism: MechanismLayers = new Set(
  mechanismLayers.filter(({ inDesign }) => inDesign).map(({ name }) => name),
)
