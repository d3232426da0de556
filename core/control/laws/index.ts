import { pdOnRate } from './pdOnRate'
import { pidOnRate } from './pidOnRate'
import { proportional } from './proportional'
import { proportionalDerivative } from './pd'
import { proportionalIntegral } from './proportionalIntegral'
import { proportionalIntegralDerivative } from './pid'
import type { Law } from '../law'

/** In the order people see. */
export const laws: readonly Law[] = [
  ...[proportional, proportionalIntegral, proportionalDerivative, proportionalIntegralDerivative],
  ...[pdOnRate, pidOnRate],
]
