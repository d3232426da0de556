import { ball } from './ball'
import { fixed } from './fixed'
import { free } from './free'
import { planar } from './planar'
import { sliding } from './sliding'
import { turning } from './turning'
import { turningSliding } from './turningSliding'
import { twoAxis } from './twoAxis'
import type { JointKind } from './joint'

/** In the order people see. */
export const joints: readonly JointKind[] = [fixed, turning, sliding, turningSliding, twoAxis, ball, planar, free]
