import type { Document } from '../document'

/** A column that is worked out from others once a run has ended. */
export interface Afterwards {
  readonly column: number
  /**
   * Its values from a row on, of rows that lie one after the other; as far as the least is concerned, if that is all that is
   * asked (see `FilledColumn`).
   */
  readonly values: (
    rows: Float64Array,
    width: number,
    first: number,
    least?: { readonly from: number; readonly below: number },
  ) => Float64Array
  /** The same of a document that differs in numbers alone. */
  readonly of: (document: Document) => Afterwards
}

/**
 * What is worked out from some values of every so many rows, and stands until the next; `at` gives its limit where it is no
 * less than that.
 */
export function heldBetween(
  every: number,
  places: readonly number[],
  at: (values: ArrayLike<number>, limit?: number) => number,
): Afterwards['values'] {
  return (rows, width, first, least) => {
    const count = rows.length / width
    const values = new Float64Array(count - first)
    const given = new Float64Array(places.length)
    const fresh = (row: number, limit?: number) => {
      places.forEach((place, i) => (given[i] = rows[row * width + place]!))
      return at(given, limit)
    }
    const begin = first - (first % every)
    const put = (row: number, value: number) => values.fill(value, Math.max(0, row - first), row - first + every)
    if (least === undefined) {
      for (let row = begin; row < count; row += every) put(row, fresh(row))
      return values
    }
    let [nearest, wasLimited] = [Infinity, false]
    for (let row = least.from - (least.from % every); row < count; row += every) {
      const limit = Math.max(nearest, least.below)
      const now = fresh(row, limit)
      // where it goes below, the row before tells when
      if (now < least.below && wasLimited) put(row - every, fresh(row - every))
      put(row, now)
      wasLimited = now >= limit
      nearest = Math.min(nearest, now)
    }
    return values
  }
}
