/** A table that was read from a file: what a rig or another program recorded. */
export interface MeasuredTable {
  /** The name of its file. */
  readonly file: string
  /** Rows that are kept, and every how many of the file's these are. */
  readonly rows: number
  readonly every: number
  readonly columns: readonly TableColumn[]
}

export interface TableColumn {
  readonly name: string
  /** Not a number where nothing or a word stands. */
  readonly values: Float64Array
  /** By row the words that stand there, of a column that has any: of each its place in `words`, -1 where a number or nothing is. */
  readonly texts?: { readonly places: Int32Array; readonly words: readonly string[] }
}

/** Whether most of what stands in a column are words. */
export function isOfWords({ values, texts }: TableColumn): boolean {
  if (texts === undefined) return false
  let [numbers, words] = [0, 0]
  for (let k = 0; k < values.length; k++) {
    if (texts.places[k]! >= 0) words++
    else if (!Number.isNaN(values[k]!)) numbers++
  }
  return words > numbers
}
