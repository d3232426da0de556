/** Figures of a response from `start` towards `final`. Times from the step. Absent where the response never gets there. */
export interface StepFigures {
  readonly final: number
  /** s from 10 to 90 % (or as asked) */
  readonly rise?: number
  readonly peak: number
  readonly peakTime: number
  /** share of the travel beyond the final value; 0 for none */
  readonly overshoot: number
  /** s until the response stays within the band around the final value */
  readonly settling?: number
}

export interface FigureRules {
  /** Final value; the last sample unless given. */
  readonly final?: number
  readonly start?: number
  /** Share of the travel. */
  readonly settlingBand?: number
  readonly rise?: readonly [number, number]
}

/** Definitions as in common control texts: settling within 2 % unless said, rise from 10 to 90 %. Crossings are interpolated. */
export function stepFigures(t: ArrayLike<number>, y: ArrayLike<number>, rules: FigureRules = {}): StepFigures {
  const n = t.length
  const start = rules.start ?? 0
  const final = rules.final ?? y[n - 1]!
  const travel = final - start
  const band = (rules.settlingBand ?? 0.02) * Math.abs(travel)
  const share = (k: number) => (y[k]! - start) / travel
  let peak = 0
  for (let k = 1; k < n; k++) if (share(k) > share(peak)) peak = k
  const [low, high] = rules.rise ?? [0.1, 0.9]
  const [from, to] = [firstCrossing(t, share, n, low), firstCrossing(t, share, n, high)]
  const settled = settlingTime(t, y, n, final, band)
  return {
    final,
    ...(from !== undefined && to !== undefined ? { rise: to - from } : {}),
    peak: y[peak]!,
    peakTime: t[peak]! - t[0]!,
    overshoot: Math.max(0, share(peak) - 1),
    ...(settled !== undefined ? { settling: settled - t[0]! } : {}),
  }
}

function firstCrossing(t: ArrayLike<number>, share: (k: number) => number, n: number, level: number): number | undefined {
  for (let k = 0; k < n; k++) {
    if (!(share(k) >= level)) continue
    if (k === 0) return t[0]
    const part = (level - share(k - 1)) / (share(k) - share(k - 1))
    return t[k - 1]! + part * (t[k]! - t[k - 1]!)
  }
  return undefined
}

function settlingTime(t: ArrayLike<number>, y: ArrayLike<number>, n: number, final: number, band: number): number | undefined {
  let k = n - 1
  while (k >= 0 && Math.abs(y[k]! - final) <= band) k--
  if (k === n - 1) return undefined
  if (k < 0) return t[0]
  const [outside, inside] = [Math.abs(y[k]! - final), Math.abs(y[k + 1]! - final)]
  const part = (outside - band) / (outside - inside)
  return t[k]! + part * (t[k + 1]! - t[k]!)
}
