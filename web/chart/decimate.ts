/**
 * At most two points a pixel column: the least and the most of each column keep every peak in sight.
 * Gives indices in order; a value that is no number stays among them, as it leaves the curve open.
 */
export function decimated(xs: ArrayLike<number>, ys: ArrayLike<number>, columns: number): number[] {
  const n = xs.length
  if (n <= 2 * columns) return Array.from({ length: n }, (_, i) => i)
  const kept: number[] = []
  for (let c = 0; c < columns; c++) {
    const from = Math.floor((c * n) / columns)
    const to = Math.floor(((c + 1) * n) / columns)
    let [low, high, hole] = [from, from, -1]
    for (let i = from; i < to; i++) {
      if (Number.isNaN(ys[i]!)) hole = i
      else if (!(ys[i]! >= ys[low]!)) low = i
      if (ys[i]! > ys[high]! || Number.isNaN(ys[high]!)) high = i
    }
    const here = new Set(hole < 0 ? [low, high] : [low, high, hole])
    kept.push(...[...here].sort((a, b) => a - b))
  }
  if (kept.at(-1) !== n - 1) kept.push(n - 1)
  return kept
}
