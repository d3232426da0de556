import { select } from '../../expression'
import type { Scalar } from '../../expression'
import type { Vector } from '../../algebra'
import type { Part } from '../../document'
import type { EstimatorContext, Watched } from './estimator'
import { sensorOf } from './ofBody'

/** Hz */
export function rateOfSensor(machine: Part, sensor: unknown): number {
  return sensorOf(machine, sensor).rate as number
}

/** What the inertial sensor of an estimator gave last, in its axes: rad/s and m/s². */
export function inertialOf(context: EstimatorContext): { readonly rates: Vector; readonly specificForce: Vector } {
  const { read } = context.sensor('inertial')
  return {
    rates: [read('rateX'), read('rateY'), read('rateZ')],
    specificForce: [read('forceX'), read('forceY'), read('forceZ')],
  }
}

/** s since the last sample: the first has nothing before it to move from. */
export function sinceLast({ isFirst, dt }: EstimatorContext): Scalar {
  return select(isFirst, 0, dt)
}

/** What was read less what was expected of it. */
export function innovation(name: string, unit: string, value: Scalar, label = name): Watched {
  return { name: `innovation.${name}`, label: `innovation of ${label}`, unit, value }
}
