import { less, max, mul, select, square, sub, sum } from '../../expression'
import type { Scalar } from '../../expression'
import type { Vector } from '../../algebra'
import type { Acted, PointMotion, Scene, Touchable } from './effect'

/** What something round and something solid do to one another. World axes. */
export interface Touch {
  /** N, along the normal. */
  readonly push: Scalar
  readonly force: Vector
  readonly twisting: Vector
  readonly stored: Scalar
  readonly dissipated: Scalar
  readonly supplied: Scalar
}

/** All that a point of a body touches, by `touch`, with its forces put on the body, and what that leaves. */
export function touching<Found extends Touch>(
  scene: Scene,
  body: string,
  touch: (centre: PointMotion, solid: Touchable) => Found,
): { readonly touched: readonly Found[]; readonly acted: Acted & Required<Pick<Acted, 'signals'>> } {
  const at = scene.vector('at')
  const centre = scene.point(body, at)
  const touched = scene.touchable(centre.position, scene.number('level')).map((solid) => touch(centre, solid))
  for (const { force, twisting } of touched) {
    scene.push(body, at, force)
    scene.twist(body, twisting)
  }
  const total = (of: (one: Touch) => Scalar) => sum(touched.map(of))
  return {
    touched,
    acted: {
      stored: total(({ stored }) => stored),
      dissipated: total(({ dissipated }) => dissipated),
      supplied: total(({ supplied }) => supplied),
      signals: [{ name: 'normal', label: 'normal push', unit: 'N', value: total(({ push }) => push) }],
    },
  }
}

/** What is given back along the normal for a depth, m, and a speed of leaving, m/s: spring and damper of the part, pushing only. */
export function normalPush(scene: Scene, depth: Scalar, leaving: Scalar) {
  const deep = max(0, depth)
  const elastic = mul(scene.number('stiffness'), deep)
  const damped = sub(elastic, mul(scene.number('damping'), leaving))
  const push = select(less(0, depth), max(0, damped), 0)
  return {
    push,
    /** J, and W that its damper takes. */
    stored: mul(mul(0.5, scene.number('stiffness')), square(deep)),
    damping: mul(sub(elastic, push), leaving),
  }
}
