import { add, div, floor, max, min, mul } from '../expression'
import type { Scalar } from '../expression'
import type { Part } from '../document'

/** A reading as a sensor can show it: in steps of its resolution, and never beyond its ends. `number` gives those by their slots. */
export function asShown(value: Scalar, part: Part, number: (slot: string) => Scalar): Scalar {
  const { least, most, resolution } = part as { least?: number; most?: number; resolution?: number }
  const isStepped = resolution !== undefined && resolution !== 0
  const step = isStepped ? number('resolution') : 1
  const rounded = isStepped ? mul(step, floor(add(mul(value, div(1, step)), 0.5))) : value
  const above = least === undefined ? rounded : max(rounded, number('least'))
  return most === undefined ? above : min(above, number('most'))
}
