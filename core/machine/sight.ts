import type { Vector } from '../algebra'
import type { CoordinateMotion, PointMotion, Scene } from './effects/effect'

/** What sensors and readings can see of the machine. World axes unless said. */
export interface Sight extends Pick<Scene, 'number' | 'vector' | 'formula' | 'direction' | 'ground' | 'touchable' | 'axes'> {
  readonly coordinate: (name: string) => CoordinateMotion
  readonly point: (body: string, at: Vector) => PointMotion
  /** The wind at a place, m/s. */
  readonly wind: (position: Vector) => Vector
  /** Angular velocity, in the axes of the body. */
  readonly turningInBody: (body: string) => Vector
  /** Acceleration of a point less gravity, in the axes of the body. */
  readonly specificForceInBody: (body: string, at: Vector) => Vector
}
