import { pdOnRate } from './pdOnRate'
import { pidOnRate } from './pidOnRate'
import { proportional } from './proportional'
import { proportionalIntegral } from './proportionalIntegral'
import type { Law } from '../law'

/** In the order people see. */
export const laws: readonly Law[] = [proportional, pdOnRate, proportionalIntegral, pidOnRate]
