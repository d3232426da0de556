/** A stretch in which a signal stays what it is. */
export interface Spell {
  readonly value: number
  readonly from: number
  readonly to: number
}

/** More different values than this are no states. */
const mostStates = 8

/** Stretches of a signal that takes only a few whole values; nothing where it takes others. */
export function statesOf(time: ArrayLike<number>, values: Float64Array): readonly Spell[] | undefined {
  const seen = new Set<number>()
  for (const value of values) {
    if (!Number.isInteger(value)) return undefined
    seen.add(value)
    if (seen.size > mostStates) return undefined
  }
  const begins = Array.from(values.keys()).filter((k) => k === 0 || values[k] !== values[k - 1])
  return begins.map((k, i) => ({ value: values[k]!, from: time[k]!, to: time[begins[i + 1] ?? values.length - 1]! }))
}
