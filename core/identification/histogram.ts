/** How often a signal lies where. */
export interface Histogram {
  /** Ends of the bins, one more than there are bins. */
  readonly edges: Float64Array
  /** Share of the samples in each bin: together 1, of samples within the ends. */
  readonly shares: Float64Array
}

/** Shares of samples in even bins from `least` to `most`; a sample on an edge counts upward, the last edge counts in. */
export function histogramOf(values: Float64Array, least: number, most: number, bins: number): Histogram {
  const edges = Float64Array.from({ length: bins + 1 }, (_, i) => least + ((most - least) * i) / bins)
  const shares = new Float64Array(bins)
  let count = 0
  for (const value of values) {
    if (!(value >= least && value <= most)) continue
    shares[Math.min(bins - 1, Math.floor(((value - least) / (most - least)) * bins))]!++
    count++
  }
  return { edges, shares: count === 0 ? shares : shares.map((share) => share / count) }
}
