import { add, floor, max, min, mul } from '../expression'
import type { Scalar } from '../expression'
import type { Part } from '../document'

/** A reading as a sensor can show it: in steps of its resolution, and never beyond its ends. */
export function asShown(value: Scalar, part: Part): Scalar {
  const { least, most, resolution } = part as { least?: number; most?: number; resolution?: number }
  const isStepped = resolution !== undefined && resolution !== 0
  const rounded = isStepped ? mul(resolution, floor(add(mul(value, 1 / resolution), 0.5))) : value
  const above = least === undefined ? rounded : max(rounded, least)
  return most === undefined ? above : min(above, most)
}
