import { add, sub } from '../../expression'
import { applied, cross, dot, minus, plus } from '../../algebra'
import type { Vector } from '../../algebra'
import type { BodyView, ChainRow } from './chain'

/** A point of a body with its motion, world axes. */
export interface PointView {
  readonly position: Vector
  readonly velocity: Vector
  readonly bias: Vector
  readonly columns: readonly Vector[]
}

export function pointOf(body: BodyView, at: Vector): PointView {
  const arm = applied(body.pose.rotation, at)
  return {
    position: plus(body.pose.position, arm),
    velocity: plus(body.linear, cross(body.angular, arm)),
    bias: plus(body.linearBias, plus(cross(body.angularBias, arm), cross(body.angular, cross(body.angular, arm)))),
    columns: body.jacobian.map(({ angular, linear }) => plus(linear, cross(angular, arm))),
  }
}

/** Three rows: two points are one. */
export function meeting(a: PointView, b: PointView): ChainRow[] {
  return ([0, 1, 2] as const).map((k) => ({
    gap: sub(a.position[k], b.position[k]),
    rate: sub(a.velocity[k], b.velocity[k]),
    jacobian: a.columns.map((column, i) => sub(column[k], b.columns[i]![k])),
    bias: sub(a.bias[k], b.bias[k]),
    unit: 'm',
  }))
}

/** One row: a direction of one body stays square to a direction of another. Both unit vectors in world axes. */
export function square(a: BodyView, along: Vector, b: BodyView, across: Vector): ChainRow {
  const lever = cross(along, across)
  const turning = minus(a.angular, b.angular)
  // along' = wa x along, across' = wb x across
  const leverRate = plus(cross(cross(a.angular, along), across), cross(along, cross(b.angular, across)))
  return {
    gap: dot(along, across),
    rate: dot(lever, turning),
    jacobian: a.jacobian.map(({ angular }, i) => dot(lever, minus(angular, b.jacobian[i]!.angular))),
    bias: add(dot(lever, minus(a.angularBias, b.angularBias)), dot(leverRate, turning)),
    unit: 'rad',
  }
}
