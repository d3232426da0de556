import { add, sub } from '../../expression'
import { applied, cross, dot, minus, plus, scaled } from '../../algebra'
import type { Vector } from '../../algebra'
import type { BodyView, ChainAct, ChainRow } from './chain'

/** A point of a body with its motion, world axes. */
export interface PointView {
  readonly body: string
  readonly position: Vector
  readonly velocity: Vector
  readonly bias: Vector
  readonly columns: readonly Vector[]
}

export function pointView(body: BodyView, at: Vector): PointView {
  const arm = applied(body.pose.rotation, at)
  return {
    body: body.name,
    position: plus(body.pose.position, arm),
    velocity: plus(body.linear, cross(body.angular, arm)),
    bias: plus(body.linearBias, plus(cross(body.angularBias, arm), cross(body.angular, cross(body.angular, arm)))),
    columns: body.jacobian.map(({ angular, linear }) => plus(linear, cross(angular, arm))),
  }
}

/** A reaction along a direction: one way on one point, the other way on the other. */
export function pullApart(a: PointView, b: PointView, along: Vector): ChainAct[] {
  return [
    { body: a.body, at: a.position, force: along, moment: none },
    { body: b.body, at: b.position, force: scaled(along, -1), moment: none },
  ]
}

const none: Vector = [0, 0, 0]
const units: readonly Vector[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]

/** Three rows: two points are one. */
export function meeting(a: PointView, b: PointView): ChainRow[] {
  return ([0, 1, 2] as const).map((k) => ({
    gap: sub(a.position[k], b.position[k]),
    rate: sub(a.velocity[k], b.velocity[k]),
    jacobian: a.columns.map((column, i) => sub(column[k], b.columns[i]![k])),
    bias: sub(a.bias[k], b.bias[k]),
    unit: 'm',
    acts: pullApart(a, b, units[k]!),
  }))
}

/** One row: a direction of one body stays square to a direction of another. Both unit vectors in world axes. */
export function squareRow(a: BodyView, along: Vector, b: BodyView, across: Vector): ChainRow {
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
    acts: [
      { body: a.name, at: a.pose.position, force: none, moment: lever },
      { body: b.name, at: b.pose.position, force: none, moment: scaled(lever, -1) },
    ],
  }
}
