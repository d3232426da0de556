/**
 * At most two points a pixel column: the least and the most of each column keep every peak in sight.
 * Gives pairs of indices in order.
 */
export function decimated(xs: ArrayLike<number>, ys: ArrayLike<number>, columns: number): number[] {
  const n = xs.length
  if (n <= 2 * columns) return Array.from({ length: n }, (_, i) => i)
  const kept: number[] = []
  for (let c = 0; c < columns; c++) {
    const from = Math.floor((c * n) / columns)
    const to = Math.floor(((c + 1) * n) / columns)
    let [low, high] = [from, from]
    for (let i = from; i < to; i++) {
      if (ys[i]! < ys[low]!) low = i
      if (ys[i]! > ys[high]!) high = i
    }
    kept.push(Math.min(low, high))
    if (low !== high) kept.push(Math.max(low, high))
  }
  if (kept.at(-1) !== n - 1) kept.push(n - 1)
  return kept
}
