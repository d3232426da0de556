import { pdOnRate } from './pdOnRate'
import { pidOnRate } from './pidOnRate'
import { proportional } from './proportional'
import { proportionalDerivative } from './pd'
import { proportionalIntegral } from './proportionalIntegral'
import { proportionalIntegralDerivative } from './pid'
import { gainSchedule } from './gainSchedule'
import { onOff } from './onOff'
import { relay } from './relay'
import { stateFeedback } from './stateFeedback'
import { stateLogic } from './stateLogic'
import { typedLaw } from './typedLaw'
import type { Law } from '../law'

export { stateFeedback }

/** In the order people see. */
export const laws: readonly Law[] = [
  ...[proportional, proportionalIntegral, proportionalDerivative, proportionalIntegralDerivative],
  ...[pdOnRate, pidOnRate, gainSchedule, stateFeedback],
  ...[onOff, relay, typedLaw, stateLogic],
]
