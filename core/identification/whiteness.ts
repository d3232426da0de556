import { spectrumOf } from './spectrum'

/** How what is left looks. */
export interface LeftLook {
  /** Of the differences of a signal, from one row to the next up to `mostLags`; 1 at none. */
  readonly correlation: readonly number[]
  /** Within this white noise stays with 95 %. */
  readonly band: number
  readonly inside: number
  readonly looks: 'white' | 'drifting' | 'atOneFrequency' | 'slow' | 'coloured' | 'offset'
  /** Hz, where it swings at one frequency. */
  readonly frequency?: number
}

const mostLags = 25
/** Shares of the mean square from which what is left is called by what holds them. */
const [mostlyOffset, mostlyDrift, mostlyOne] = [0.5, 0.4, 0.35]

/**
 * Whether differences are white: by their autocorrelation, which of white ones lies within 1.96 / root n (L. Ljung, System
 * Identification, 2nd ed., section 16.6), and if not, how they look. Rows without a number are left out.
 */
export function lookOfLeft(values: Float64Array, rate: number): LeftLook {
  const known = values.filter((value) => !Number.isNaN(value))
  const n = known.length
  const mean = known.reduce((sum, value) => sum + value, 0) / n
  const about = known.map((value) => value - mean)
  const power = about.reduce((sum, value) => sum + value * value, 0)
  const lags = Array.from({ length: Math.min(mostLags, n - 1) }, (_, k) => k + 1)
  const correlation = lags.map((lag) => {
    let sum = 0
    for (let k = 0; k + lag < n; k++) sum += about[k]! * about[k + lag]!
    return power === 0 ? 0 : sum / power
  })
  const band = 1.96 / Math.sqrt(n)
  const inside = correlation.filter((r) => Math.abs(r) <= band).length
  const told = { correlation, band, inside }
  if ((n * mean * mean) / (power + n * mean * mean || 1) > mostlyOffset) return { ...told, looks: 'offset' }
  // of 25 lags of white noise one or two lie outside, five hardly ever
  if (inside >= correlation.length - 4 && Math.abs(correlation[0] ?? 0) <= 2 * band) return { ...told, looks: 'white' }
  const middle = (n - 1) / 2
  const spread = (n * (n * n - 1)) / 12
  const slope = about.reduce((sum, value, k) => sum + value * (k - middle), 0) / spread
  if ((slope * slope * spread) / power > mostlyDrift) return { ...told, looks: 'drifting' }
  const spectrum = spectrumOf(about, rate)
  if (spectrum !== undefined) {
    const { density, frequency, resolution } = spectrum
    const top = density.reduce((best, value, k) => (value > density[best]! ? k : best), 1)
    const near = [top - 1, top, top + 1].reduce((sum, k) => sum + (density[k] ?? 0), 0)
    if (top > 2 && (near * resolution) / (power / n) > mostlyOne)
      return { ...told, looks: 'atOneFrequency', frequency: frequency[top]! }
  }
  return { ...told, looks: (correlation[0] ?? 0) > 0.5 ? 'slow' : 'coloured' }
}
