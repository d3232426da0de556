import { strokes } from './series'
import type { Series } from './series'

/** What a curve shows at a place; nothing outside of it. */
export function readingOf({ name, role, xs, ys }: Series, at: number): { name: string; value: number; color: string }[] {
  let [low, high] = [0, xs.length - 1]
  if (!(at >= xs[low]! && at <= xs[high]!)) return []
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (xs[middle]! <= at) low = middle
    else high = middle
  }
  const { color, shape } = strokes[role]
  const share = shape === 'steps' || xs[high] === xs[low] ? 0 : (at - xs[low]!) / (xs[high]! - xs[low]!)
  const value = ys[low]! + share * (ys[high]! - ys[low]!)
  return Number.isFinite(value) ? [{ name, value, color }] : []
}
