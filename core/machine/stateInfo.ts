export interface StateInfo {
  readonly name: string
  readonly unit: string
  /** Value at rest, as the document has the machine. */
  readonly atRest: number
}
