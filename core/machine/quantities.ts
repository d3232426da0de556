import type { Scalar } from '../expression'
import { rotation, tiltOf } from '../algebra'
import type { Motion } from './equations'

/** Whether an angle adds up over turns or starts again after one; errors between angles that go round are wrapped. */
export type AngleSort = 'countsTurns' | 'goesRound'

/** A quantity that is one component of a vector: loops on both make up for the error of the vector. */
export interface VectorComponent {
  /** What the vector is called. */
  readonly of: string
  readonly component: 0 | 1
  /** The quantity of its other component. */
  readonly beside: string
  /** Roll, pitch and heading of the body that it is of: the error of the vector is made up for about the body's own axes. */
  readonly attitude: readonly [roll: string, pitch: string, heading: string]
}

/** What a loop can hold. */
export interface HeldQuantity {
  readonly name: string
  readonly label: string
  readonly unit: string
  /** The quantity that is its time derivative, where there is one. */
  readonly rate?: string
  readonly angle?: AngleSort
  readonly vector?: VectorComponent
}

export interface Quantity extends HeldQuantity {
  readonly of: (motion: Motion) => Scalar
}

/** What a floating body can be watched by and loops can hold. */
export const quantities: readonly Quantity[] = [
  { name: 'east', label: 'east', unit: 'm', rate: 'eastRate', of: (m) => m.position[0] },
  { name: 'north', label: 'north', unit: 'm', rate: 'northRate', of: (m) => m.position[1] },
  { name: 'height', label: 'height', unit: 'm', rate: 'climbRate', of: (m) => m.position[2] },
  { name: 'eastRate', label: 'eastward speed', unit: 'm/s', of: (m) => m.velocity[0] },
  { name: 'northRate', label: 'northward speed', unit: 'm/s', of: (m) => m.velocity[1] },
  { name: 'climbRate', label: 'climb rate', unit: 'm/s', of: (m) => m.velocity[2] },
  { name: 'roll', label: 'roll', unit: 'rad', rate: 'rollRate', angle: 'goesRound', of: (m) => m.roll },
  { name: 'pitch', label: 'pitch', unit: 'rad', rate: 'pitchRate', angle: 'goesRound', of: (m) => m.pitch },
  { name: 'heading', label: 'heading', unit: 'rad', rate: 'yawRate', angle: 'goesRound', of: (m) => m.heading },
  { name: 'tiltEast', label: 'tilt about east', unit: 'rad', rate: 'rollRate', vector: tilt(0), of: (m) => tiltVector(m)[0] },
  { name: 'tiltNorth', label: 'tilt about north', unit: 'rad', rate: 'pitchRate', vector: tilt(1), of: (m) => tiltVector(m)[1] },
  { name: 'rollRate', label: 'roll rate', unit: 'rad/s', of: (m) => m.omega[0] },
  { name: 'pitchRate', label: 'pitch rate', unit: 'rad/s', of: (m) => m.omega[1] },
  { name: 'yawRate', label: 'yaw rate', unit: 'rad/s', of: (m) => m.omega[2] },
]

function tilt(component: 0 | 1): VectorComponent {
  const attitude = ['roll', 'pitch', 'heading'] as const
  return { of: 'tilt', component, beside: component === 0 ? 'tiltNorth' : 'tiltEast', attitude }
}

function tiltVector({ orientation }: Motion): readonly [Scalar, Scalar] {
  const [[, , x], [, , y], [, , z]] = rotation(orientation)
  return tiltOf([x, y, z])
}

export function findQuantity(name: string): Quantity | undefined {
  return quantities.find((quantity) => quantity.name === name)
}

/** What allocation spreads over the rotors, in its order. */
export const axes = [
  { name: 'lift', label: 'lift', unit: 'N' },
  { name: 'rollMoment', label: 'roll moment', unit: 'N·m' },
  { name: 'pitchMoment', label: 'pitch moment', unit: 'N·m' },
  { name: 'yawMoment', label: 'yaw moment', unit: 'N·m' },
] as const

export type AxisName = (typeof axes)[number]['name']
