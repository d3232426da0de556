import type { Scalar } from '../../expression'
import type { Rows, Vector } from '../../algebra'
import type { Part } from '../../document'
import type { Kind, OfOwn, PartOf, Slots } from '../../kinds'
import type { Layer } from '../softwareLayers'
import type { Water } from '../surroundings/water'
import type { Surface } from '../solidSurface'

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

/** The ground under a place: its height, and the direction that stands on it. */
export interface GroundBelow {
  readonly height: Scalar
  readonly normal: Vector
  /** m/s: how fast it rises; nothing of one that stands still. */
  readonly rising?: Scalar
}

/** Something solid near a place, seen from it. */
export interface Touchable extends Surface {
  /** m/s: how fast it rises there. */
  readonly rising: Scalar
}

/** What a force or drive sees of the machine, and where it puts what it does. World axes. */
export interface Scene {
  /** A number of the part, by slot. */
  readonly number: (slot: string) => Scalar
  readonly point: (body: string, at: Vector) => PointMotion
  readonly vector: (slot: string) => Vector
  /** Rows of a table. */
  readonly rows: (slot: string) => readonly (readonly Scalar[])[]
  /** A formula over coordinates, speeds, the machine's constants and `t`; `more` are names of the part's own. */
  readonly formula: (slot: string, more?: Readonly<Record<string, Scalar>>) => Scalar
  /** A direction of a body, of length 1, in the world and in axes of the body, and the body's angular velocity. */
  readonly direction: (body: string, slot: string) => Vector
  readonly ownDirection: (slot: string) => Vector
  readonly turning: (body: string) => Vector
  /** Axes of a body in the world. */
  readonly axes: (body: string) => Rows
  /** Density at a height, kg/m³, and the wind at a place, m/s; the ground under a place. */
  readonly density: (height: Scalar) => Scalar
  readonly wind: (position: Vector) => Vector
  readonly ground: (x: Scalar, y: Scalar) => GroundBelow
  /** All that is solid around: the ground, of which the part touches a level, m over it, and what stands on it. */
  readonly touchable: (position: Vector, level: Scalar) => readonly Touchable[]
  /** The water at a place, where there is some; m/s², downwards. */
  readonly water: (x: Scalar, y: Scalar) => Water | undefined
  readonly gravity: Scalar
  /** The voltage that a battery gives now; `draw` takes a current out of it. */
  readonly supply: (name: string) => { readonly voltage: Scalar; readonly draw: (current: Scalar) => void }
  /** Current that drives draw from this battery, A: known once they have acted. */
  readonly drawn: Scalar
  readonly coordinate: (name: string) => CoordinateMotion
  /** The part's own states and input, where it has them. */
  readonly states: readonly Scalar[]
  readonly input: Scalar
  readonly push: (body: string, at: Vector, force: Vector) => void
  readonly twist: (body: string, torque: Vector) => void
  /** The same of a force and a torque given in axes of the body: what stays along them needs no turning there and back. */
  readonly pushOwn: (body: string, at: Vector, force: Vector, torque: Vector) => void
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
  readonly signals?: readonly {
    readonly name: string
    readonly label: string
    readonly unit: EffectUnit
    readonly value: Scalar
  }[]
}

/** A unit; or that of what stands along its joint, which is an angle or a length. */
export type EffectUnit = string | { readonly along: 'position' | 'speed' | 'effort' }

/** The unit of an effect whose joint counts in `position`, rad or m. */
export function unitAlong(unit: EffectUnit, position: string): string {
  if (typeof unit === 'string') return unit
  switch (unit.along) {
    case 'position':
      return position
    case 'speed':
      return `${position}/s`
    case 'effort':
      return position === 'm' ? 'N' : 'N·m'
    default:
      return unit.along satisfies never
  }
}

export interface EffectState {
  readonly name: string
  readonly unit: EffectUnit
  /** Slot that holds what it starts with; 0 without. */
  readonly start?: string
}

/** A round place on a body that touches the ground, m. */
export interface Foot {
  readonly body: string
  readonly at: readonly number[]
  readonly radius: number
  readonly level: number
}

/** A force or drive: one file, one value, in its folder's list. */
export interface EffectKind<S extends Slots = Slots> extends Kind<S> {
  readonly label: string
  readonly states?: readonly EffectState[]
  /** What can be asked of it from outside. */
  readonly input?: { readonly label: string; readonly unit: EffectUnit }
  readonly act: OfOwn<[scene: Scene, part: PartOf<Kind<S>>], Acted>
  /** The voltage it gives to drives: makes it a battery, which acts after all others. */
  readonly voltage?: (scene: Pick<Scene, 'number' | 'states' | 'has'>) => Scalar
  /** Inertia that a rotor geared to its joint adds to that joint. */
  readonly armature?: (scene: Pick<Scene, 'number' | 'has'>) => Scalar
  /** The most effort that it can put on its joint at a speed, in the sense of the speed. */
  readonly reach?: (number: (slot: string) => number, speed: number) => number
  /** What it is for whoever wants an effort of it, such as a thrust: what it must be asked then, and how much it gives. */
  readonly effort?: {
    readonly label: string
    readonly unit: EffectUnit
    readonly input: (effort: Scalar, number: (slot: string) => Scalar) => Scalar
    readonly limits: (number: (slot: string) => Scalar) => readonly [least: Scalar, most: Scalar]
  }
  /** Names that its formulas may use besides those of the machine. */
  readonly formulaNames?: readonly string[]
  /** Where it touches the ground: a machine with one stands on some ground, level where nothing says otherwise. */
  readonly foot?: OfOwn<[part: PartOf<Kind<S>>], Foot>
  /** Whether its force can set in, or change its slope, from one moment to the next: steps over that must measure their error. */
  readonly isSudden?: true
  /** What of it can be switched off, with what then stands in. */
  readonly layers?: readonly MechanismLayer[]
  /** What is wrong with its numbers that no schema can see. */
  readonly contradictions?: OfOwn<[part: PartOf<Kind<S>>], readonly Contradiction[]>
}

export function defineEffect<const S extends Slots>(kind: EffectKind<S>): EffectKind<S> {
  return kind
}

/** What is wrong with the numbers of a part, and what would mend it. */
export interface Contradiction {
  readonly slot: string
  readonly what: string
  readonly remedy: string
}

/** Everything of a machine that can be switched off as a whole, in the order people see; what it is stands at what acts so. */
export const layerOrder = [
  'sensorErrors',
  'viscous',
  'friction',
  'stops',
  'driveLimits',
  'driveDynamics',
  'gears',
  'battery',
  'inflow',
  'groundEffect',
  'air',
  'gusts',
  'contact',
] as const
export type MechanismLayerName = (typeof layerOrder)[number]
export type MechanismLayers = ReadonlySet<MechanismLayerName>

export interface MechanismLayer extends Layer<MechanismLayerName> {
  /** Whether it matters to a part that has it; always where nothing is said. */
  readonly matters?: (part: Part, around: { readonly hasGround: boolean }) => boolean
}
