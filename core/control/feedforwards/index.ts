import { gravity } from './gravity'
import { holding } from './holding'
import { inverseDrive } from './inverseDrive'
import { byInverseDynamics } from './inverseDynamics'
import { measuredDisturbance } from './measuredDisturbance'
import { plantInverse } from './plantInverse'
import { referenceGains } from './referenceGains'
import type { Feedforward } from './feedforward'

export type { Feedforward, ForwardInputs, Motion } from './feedforward'
export { holding, measuredDisturbance }

/** In the order people see. */
export const feedforwards: readonly Feedforward[] = [
  ...[holding, gravity, referenceGains, plantInverse, byInverseDynamics],
  ...[inverseDrive, measuredDisturbance],
]
