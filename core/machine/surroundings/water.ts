import { add, cos, div, exp, less, log, mul, neg, pow, select, sin, sqrt, square, sub, sum, uniform } from '../../expression'
import type { Scalar } from '../../expression'
import type { Vector } from '../../algebra'

/** Water at a place: how high its surface stands there, and how its particles move at a height under it. */
export interface Water {
  /** m over the origin. */
  readonly height: Scalar
  /** m/s: how fast that rises at a place that stands still; and its slope along x and y. */
  readonly rising: Scalar
  readonly slope: readonly [Scalar, Scalar]
  /** m/s in world axes. */
  readonly velocity: (z: Scalar) => Vector
  /** kg/m³ */
  readonly density: Scalar
}

/** One wave of deep water: its amplitude, m, circular frequency, rad/s, and phase at the origin at 0 s. */
export interface Wave {
  readonly amplitude: Scalar
  readonly frequency: Scalar
  readonly phase: Scalar
}

/** rad/m of a wave of deep water: ω² = g k (Airy; Faltinsen, Sea Loads, 1990). */
export function waveNumber(frequency: Scalar, gravity: Scalar): Scalar {
  return div(square(frequency), gravity)
}

interface Sea {
  readonly level: Scalar
  readonly density: Scalar
  /** rad, about z from x. */
  readonly towards: Scalar
  readonly gravity: Scalar
  readonly time: Scalar
}

/** Long-crested linear waves on a level at (x, y): surface and particles by Airy's theory, deep water; above the level as at it. */
export function wavy({ level, density, towards, gravity, time }: Sea, waves: readonly Wave[], x: Scalar, y: Scalar): Water {
  const [c, s] = [cos(towards), sin(towards)]
  const along = add(mul(c, x), mul(s, y))
  const parts = waves.map(({ amplitude, frequency, phase }) => {
    const k = waveNumber(frequency, gravity)
    const angle = add(sub(mul(k, along), mul(frequency, time)), phase)
    return {
      k,
      speed: mul(amplitude, frequency),
      up: mul(amplitude, cos(angle)),
      cosine: cos(angle),
      sine: sin(angle),
      amplitude,
    }
  })
  const steep = neg(sum(parts.map(({ amplitude, k, sine }) => mul(mul(amplitude, k), sine))))
  return {
    height: add(level, sum(parts.map(({ up }) => up))),
    rising: sum(parts.map(({ speed, sine }) => mul(speed, sine))),
    slope: [mul(c, steep), mul(s, steep)],
    velocity: (z) => {
      const depth = sub(z, level)
      const below = select(less(depth, 0), depth, 0)
      const fades = parts.map(({ k }) => exp(mul(k, below)))
      const forth = sum(parts.map(({ speed, cosine }, i) => mul(mul(speed, fades[i]!), cosine)))
      return [mul(c, forth), mul(s, forth), sum(parts.map(({ speed, sine }, i) => mul(mul(speed, fades[i]!), sine)))]
    },
    density,
  }
}

/**
 * The JONSWAP spectrum without its size over ω/ωp: r^-5 exp(-1.25 r^-4) γ^exp(-(r-1)²/2s²), s = 0.07 below the peak, 0.09
 * above. Hasselmann et al., Deutsche Hydrographische Zeitschrift A8 (12), 1973; γ = 1 is that of Pierson and Moskowitz, 1964.
 */
export function jonswapShape(ratio: Scalar, peakedness: Scalar): Scalar {
  const width = select(less(1, ratio), 0.09, 0.07)
  const near = exp(neg(div(square(sub(ratio, 1)), mul(2, square(width)))))
  return mul(mul(pow(ratio, -5), exp(mul(-1.25, pow(ratio, -4)))), pow(peakedness, near))
}

/** Waves of a sea, and ω/ωp between which they lie: all but a thousandth of its energy. */
const waves = 28
const [lowest, highest] = [0.55, 4.6]
/** Streams of chance: where in its band a wave lies, and its phase. */
const [where, phases] = [1, 2]

/** A sea of a significant height, m, and peak period, s, as waves by its seed: one in each of many bands, its energy exactly. */
export function seaOf(height: Scalar, period: Scalar, peakedness: Scalar, seed: Scalar): readonly Wave[] {
  const band = div(log(highest / lowest), waves)
  const ratios = Array.from({ length: waves }, (_, i) => mul(lowest, exp(mul(band, add(i, uniform(seed, where, i))))))
  // bands are as wide as they are high
  const energies = ratios.map((ratio) => mul(jonswapShape(ratio, peakedness), ratio))
  const size = div(mul(height, Math.SQRT2 / 4), sqrt(sum(energies)))
  return ratios.map((ratio, i) => ({
    amplitude: mul(size, sqrt(energies[i]!)),
    frequency: div(mul(2 * Math.PI, ratio), period),
    phase: mul(2 * Math.PI, uniform(seed, phases, i)),
  }))
}
