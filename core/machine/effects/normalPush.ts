import { less, max, mul, select, sub } from '../../expression'
import type { Scalar } from '../../expression'
import type { Scene } from './effect'

/**
 * What the ground gives back along its normal, N, for a depth, m, and a speed of leaving, m/s: spring and damper of the part,
 * pushing only. `elastic` is the part of it that comes back.
 */
export function normalPush(scene: Scene, depth: Scalar, leaving: Scalar): { readonly push: Scalar; readonly elastic: Scalar } {
  const elastic = mul(scene.number('stiffness'), max(0, depth))
  const damped = sub(elastic, mul(scene.number('damping'), leaving))
  return { push: select(less(0, depth), max(0, damped), 0), elastic }
}
