import { sqrt } from '../expression'
import { principalAxes } from '../algebra'

/** A solid ellipsoid of even density with the mass and inertia of a body. */
export interface InertiaEllipsoid {
  /** m, along the columns of `axes` */
  readonly halfAxes: readonly number[]
  /** r_body_ellipsoid */
  readonly axes: readonly (readonly number[])[]
}

/**
 * The ellipsoid that turns like a body: for half axes a, b, c the moments are m/5 (b² + c²) and so on (Goldstein,
 * Classical Mechanics, from memory). Nothing for a body without mass or inertia.
 */
export function inertiaEllipsoid(mass: number, [xx, yy, zz, xy, xz, yz]: readonly number[]): InertiaEllipsoid | undefined {
  if (!(mass > 0)) return undefined
  const { values, vectors } = principalAxes([
    [xx!, xy!, xz!],
    [xy!, yy!, yz!],
    [xz!, yz!, zz!],
  ])
  const total = values.reduce((sum, value) => sum + value, 0)
  if (!(total > 0)) return undefined
  return { halfAxes: values.map((own) => sqrt(Math.max(0, (5 / (2 * mass)) * (total - 2 * own)))), axes: vectors }
}
