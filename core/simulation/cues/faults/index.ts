import type { Cue } from '../cue'
import { coarseFault } from './coarseFault'
import { driftingFault } from './driftingFault'
import { lateFault } from './lateFault'
import { limitedFault } from './limitedFault'
import { loosenedFault } from './loosenedFault'
import { lostFault } from './lostFault'
import { noisyFault } from './noisyFault'
import { offsetFault } from './offsetFault'
import { replacedFault } from './replacedFault'
import { scaledFault } from './scaledFault'
import { stuckFault } from './stuckFault'

/** In the order people see. */
export const faults: readonly Cue[] = [
  ...[stuckFault, lostFault, scaledFault, offsetFault, driftingFault, noisyFault],
  ...[lateFault, coarseFault, limitedFault, loosenedFault, replacedFault],
]
