import type { Rung } from '../../../compute/loops/rungs'

/** The picture of the ladder, px. */
export const height = 560
export const ruler = 104
/** Where rungs end and arcs begin. */
export const rungEnd = 262
const margin = 14

/** rad/s */
export const most = 1000
const usualLeast = 0.3
const slowLeast = 0.01

/** Where frequencies stand on the ruler. */
export interface LadderScale {
  /** rad/s, at the foot of the ruler. */
  readonly least: number
  /** What lies beyond the ruler stands at its end. */
  readonly y: (w: number) => number
  /** rad/s, within the ruler, with the digits that a drag sets. */
  readonly frequencyAt: (y: number) => number
}

/** A ship needs a longer ruler than a lifter. */
export function scaleFor(rungs: readonly Rung[]): LadderScale {
  const isSlow = rungs.some(({ crossover }) => crossover !== undefined && crossover < 1.3 * usualLeast)
  const least = isSlow ? slowLeast : usualLeast
  const long = height - 2 * margin
  const within = (w: number) => Math.min(Math.max(w, least), most)
  return {
    least,
    y: (w) => margin + long * (1 - Math.log(within(w) / least) / Math.log(most / least)),
    frequencyAt: (y) => {
      const w = least * (most / least) ** (1 - (y - margin) / long)
      return Number(within(w).toPrecision(3))
    },
  }
}
