import { add, div, exp, less, mul, pow, select, sqrt, sub } from '../expression'
import type { Scalar } from '../expression'

/** Constants of U.S. Standard Atmosphere, 1976, table 2. */
const g0 = 9.80665 // m/s²
const gasConstant = 8314.32 // N·m/(kmol·K)
const molarMass = 28.9644 // kg/kmol
const earthRadius = 6_356_766 // m, for geopotential height
const heatRatio = 1.4
const sutherland = { beta: 1.458e-6, s: 110.4 } // kg/(s·m·K^0.5), K

/** Base geopotential height, m, and gradient of temperature, K/m: table 4. */
const layers = [
  [0, -0.0065],
  [11_000, 0],
  [20_000, 0.001],
  [32_000, 0.0028],
  [47_000, 0],
  [51_000, -0.0028],
  [71_000, -0.002],
] as const

export interface Atmosphere {
  /** K */
  readonly temperature: Scalar
  /** Pa */
  readonly pressure: Scalar
  /** kg/m³ */
  readonly density: Scalar
  /** m/s */
  readonly soundSpeed: Scalar
  /** Pa·s */
  readonly viscosity: Scalar
}

/** State at the base of each layer, upward: T = T_b + L (H - H_b), P by equations 33a and 33b. */
const bases = layers.reduce<{ h: number; lapse: number; t: number; p: number }[]>((done, [h, lapse]) => {
  const below = done.at(-1)
  if (below === undefined) return [{ h, lapse, t: 288.15, p: 101_325 }]
  return [...done, { h, lapse, t: below.t + below.lapse * (h - below.h), p: pressureIn(below, h) as number }]
}, [])

/**
 * The standard atmosphere at a geometric altitude from 0 to 86 km; beyond its ends the nearest layer goes on.
 * U.S. Standard Atmosphere, 1976, NOAA/NASA/USAF.
 */
export function standardAtmosphere(altitude: Scalar): Atmosphere {
  const h = div(mul(earthRadius, altitude), add(earthRadius, altitude))
  const of = (value: (base: (typeof bases)[number]) => Scalar) =>
    bases
      .slice(0, -1)
      .reduceRight<Scalar>((above, base, i) => select(less(h, bases[i + 1]!.h), value(base), above), value(bases.at(-1)!))
  const temperature = of(({ h: base, lapse, t }) => add(t, mul(lapse, sub(h, base))))
  const pressure = of((base) => pressureIn(base, h))
  const specific = gasConstant / molarMass
  return {
    temperature,
    pressure,
    density: div(pressure, mul(specific, temperature)),
    soundSpeed: sqrt(mul(heatRatio * specific, temperature)),
    viscosity: div(mul(sutherland.beta, mul(temperature, sqrt(temperature))), add(temperature, sutherland.s)),
  }
}

function pressureIn({ h: base, lapse, t, p }: { h: number; lapse: number; t: number; p: number }, h: Scalar): Scalar {
  const exponent = (g0 * molarMass) / gasConstant // K/m
  if (lapse === 0) return mul(p, exp(mul(-exponent / t, sub(h, base))))
  return mul(p, pow(div(t, add(t, mul(lapse, sub(h, base)))), exponent / lapse))
}
