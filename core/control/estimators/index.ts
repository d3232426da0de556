import { heightFilter } from './heightFilter'
import { lowPassEstimator } from './lowPassEstimator'
import { observerKind } from './observer'
import { poseFilter } from './poseFilter'
import { tiltFilter } from './tiltFilter'
import type { SensedKind } from './sensed'

/** Estimators that read sensors of a lifter. */
export const sensedEstimators: readonly SensedKind[] = [heightFilter, tiltFilter, poseFilter]

/** Everything that estimates what loops read. */
export const estimators = [heightFilter, tiltFilter, poseFilter, observerKind, lowPassEstimator]

export { heightFilter, heightFilterMemory, heightFilterStep, insideRange } from './heightFilter'
export type { HeightFilterInputs } from './heightFilter'
export { lowPassEstimator, lowPassStep } from './lowPassEstimator'
export {
  observedSignal,
  observerDesign,
  observerKind,
  observerMemory,
  observerStart,
  observerStep,
  observerSystem,
} from './observer'
export type { ObserverDesign } from './observer'
export { poseFilter, poseFilterStep, poseMemory, poseStart } from './poseFilter'
export type { PoseInputs, PoseStep } from './poseFilter'
export type { SensedKind } from './sensed'
export { tiltFilter, tiltFilterStep } from './tiltFilter'
export { linearEstimators, rateOfPrefix } from './linearEstimator'
export type { LinearEstimator } from './linearEstimator'
