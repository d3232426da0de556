import type { MapFigure } from '@calm-hand/core/tuning'

/** From calm to rough. */
export const fills = [
  { color: 'var(--kelp)', opacity: 0.6 },
  { color: 'var(--kelp)', opacity: 0.38 },
  { color: 'var(--kelp)', opacity: 0.18 },
  { color: 'var(--ochre)', opacity: 0.2 },
  { color: 'var(--coral)', opacity: 0.26 },
  { color: 'var(--coral)', opacity: 0.46 },
] as const

/** Where one class ends and the next begins, as multiples of the best design for what has no scale of its own. */
const multiples = [1.5, 2.2, 3.5, 6, 12]
const ownEdges: Readonly<Partial<Record<MapFigure, readonly number[]>>> = {
  overshoot: [2, 5, 10, 20, 40],
  sensitivityPeak: [1.2, 1.4, 1.7, 2.2, 3],
}

export function classEdges(figure: MapFigure, values: Float64Array): readonly number[] {
  const own = ownEdges[figure]
  if (own !== undefined) return own
  const best = values.reduce((least, value) => (value < least ? value : least), Infinity)
  return multiples.map((multiple) => Number((multiple * (Number.isFinite(best) ? best : 1)).toPrecision(2)))
}

/** Which class a value belongs to: 0 is the calmest. */
export function classOf(value: number, edges: readonly number[]): number {
  const at = edges.findIndex((edge) => value <= edge)
  return at < 0 ? edges.length : at
}
