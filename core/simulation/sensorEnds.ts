import { add, floor, max, min, mul } from '../expression'
import type { Scalar } from '../expression'
import type { Part } from '../document'

/** A reading as a sensor can show it: within its ends, in steps of its resolution. */
export function asShown(value: Scalar, part: Part): Scalar {
  const { least, most, resolution } = part as { least?: number; most?: number; resolution?: number }
  const above = least === undefined ? value : max(value, least)
  const within = most === undefined ? above : min(above, most)
  if (resolution === undefined || resolution === 0) return within
  return mul(resolution, floor(add(mul(within, 1 / resolution), 0.5)))
}
