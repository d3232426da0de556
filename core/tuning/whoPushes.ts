import type { Prediction } from './predict'

/** What a term of a command does at one moment. */
export interface Pushing {
  readonly term: string
  /** Of the sum of all sizes. */
  readonly share: number
  /** With the motion, against it, or while nothing moves. */
  readonly does: 'drives' | 'brakes' | 'holds'
}

/** A speed below this share of the fastest counts as standing still. */
const still = 0.01
/** Shares below are not worth a word. */
const least = 0.01

/**
 * Which terms push at a sample of a prediction, the largest first. A term drives where it pushes the way that what is held
 * moves; `sense` is the sign with which the push moves it.
 */
export function whoPushes({ t, held, terms }: Prediction, at: number, sense: number): readonly Pushing[] {
  const speeds = speedsOf(t, held)
  const fastest = speeds.reduce((most, speed) => Math.max(most, Math.abs(speed)), 0)
  const speed = speeds[at] ?? 0
  const parts = Object.entries(terms).map(([term, values]) => ({ term, value: values[at] ?? 0 }))
  const whole = parts.reduce((sum, { value }) => sum + Math.abs(value), 0)
  if (whole === 0) return []
  const all = parts.map(({ term, value }): Pushing => {
    const does = Math.abs(speed) <= still * fastest ? 'holds' : value * sense * speed > 0 ? 'drives' : 'brakes'
    return { term, share: Math.abs(value) / whole, does }
  })
  return all.filter(({ share }) => share >= least).sort((a, b) => b.share - a.share)
}

function speedsOf(t: Float64Array, held: Float64Array): Float64Array {
  return held.map((value, i) => (i === 0 ? 0 : (value - held[i - 1]!) / (t[i]! - t[i - 1]!)))
}
