import type { EstimatorKind } from './estimator'
import { heightFilter } from './heightFilter'
import { lowPassEstimator } from './lowPassEstimator'
import { observerKind } from './observer'
import { poseFilter } from './poseFilter'
import { tiltFilter } from './tiltFilter'

/** Everything that estimates what loops read, in the order people see. */
export const estimators: readonly EstimatorKind[] = [heightFilter, tiltFilter, poseFilter, observerKind, lowPassEstimator]
