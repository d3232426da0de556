/** What a signal does between two instants. */
export interface SpanFigures {
  /** What it changes by from the first to the last. */
  readonly change: number
  readonly mean: number
  /** Of the signal itself, and about its mean. */
  readonly rms: number
  readonly deviation: number
  readonly least: { readonly value: number; readonly at: number }
  readonly most: { readonly value: number; readonly at: number }
  /** Per second: on the whole, and the fastest from one row to the next. */
  readonly rate: number
  readonly fastest: { readonly value: number; readonly at: number }
}

/** Figures of a signal over the rows of a window, s. `undefined` where fewer than two rows lie in it. */
export function spanFigures(time: Float64Array, values: Float64Array, from: number, to: number): SpanFigures | undefined {
  const [first, last] = rowsWithin(time, from, to)
  const count = last - first + 1
  if (count < 2) return undefined
  const at = (row: number) => ({ value: values[row]!, at: time[row]! })
  let [sum, squares, least, most, steepest] = [0, 0, first, first, first]
  const slope = (row: number) => (values[row + 1]! - values[row]!) / (time[row + 1]! - time[row]!)
  for (let row = first; row <= last; row++) {
    sum += values[row]!
    squares += values[row]! ** 2
    if (values[row]! < values[least]!) least = row
    if (values[row]! > values[most]!) most = row
    if (row < last && Math.abs(slope(row)) > Math.abs(slope(steepest))) steepest = row
  }
  const mean = sum / count
  let spread = 0
  for (let row = first; row <= last; row++) spread += (values[row]! - mean) ** 2
  const change = values[last]! - values[first]!
  return {
    ...{ change, mean, rms: Math.sqrt(squares / count), deviation: Math.sqrt(spread / count) },
    ...{ least: at(least), most: at(most), rate: change / (time[last]! - time[first]!) },
    fastest: { value: slope(steepest), at: time[steepest]! },
  }
}

/** The first and the last row within a window; the last before the first where none is. */
export function rowsWithin(time: Float64Array, from: number, to: number): readonly [first: number, last: number] {
  const first = time.findIndex((t) => t >= from - 1e-9)
  if (first < 0) return [0, -1]
  let last = time.length - 1
  while (last >= first && time[last]! > to + 1e-9) last--
  return [first, last]
}
