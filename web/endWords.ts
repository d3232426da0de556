import type { ResponseFigures } from '@calm-hand/core/tuning'
import { withUnit } from './units'

/** Less than this is nothing, in any SI unit. */
const nothing = 1e-6

/** How a response ends: how far off, or that it swings on, or has not come to its end. */
export function endWords(
  { steadyError, swings }: Pick<ResponseFigures, 'steadyError' | 'swings'>,
  unit: string,
  off: (words: string) => string = (words) => words,
): string {
  if (swings !== undefined) return `swings by ${withUnit(swings, unit, 2)}`
  if (steadyError === undefined) return 'still under way'
  return off(Math.abs(steadyError) < nothing ? `0 ${unit}` : withUnit(steadyError, unit, 2))
}
