import { assert } from '../document'
import { cos } from '../expression'
import { fourier, powerOfTwoWithin } from './fourier'
import type { ComplexArrays } from './fourier'

/** Weights of the samples of a piece. */
export type WindowName = 'hann' | 'rectangular'

export interface SpectrumChoices {
  readonly window?: WindowName
  /** Samples of a piece, a power of two; as many as give about so many pieces unless given. */
  readonly piece?: number
  /** About how many pieces are averaged, eight unless given. */
  readonly pieces?: number
}

/** How the power of a signal lies over frequency. */
export interface Spectrum {
  /** Hz, from 0 to half the rate. */
  readonly frequency: Float64Array
  /** One-sided power density, unit² / Hz; its sum times the distance of the frequencies is the variance. */
  readonly density: Float64Array
  /** Pieces that were averaged: each value scatters by about one part in the root of so many. */
  readonly pieces: number
  /** Hz between two values. */
  readonly resolution: number
}

/** Fewer samples tell nothing of frequencies. */
const leastSamples = 16
/** Pieces that are aimed at: more are smoother, and tell frequencies apart less. */
const usualPieces = 8

/**
 * Power density by averaged pieces that overlap by half, each without its mean. P. D. Welch, The Use of Fast Fourier
 * Transform for the Estimation of Power Spectra, IEEE Trans. Audio Electroacoust. 15 (1967). `undefined` of too short a signal.
 */
export function spectrumOf(values: Float64Array, rate: number, choices: SpectrumChoices = {}): Spectrum | undefined {
  const found = crossPower([values], rate, choices)
  return found === undefined ? undefined : { ...found, density: found.power[0]![0]!.re }
}

/** What of one signal goes linearly with another, over frequency. */
export interface Coherence {
  readonly frequency: Float64Array
  /** 0 to 1: the share of the power of the second that the first explains. Of one piece alone it is 1 everywhere and tells nothing. */
  readonly coherence: Float64Array
  readonly pieces: number
}

/** |S_xy|² / (S_xx S_yy). J. S. Bendat, A. G. Piersol, Random Data, section 5.2. `undefined` of too short a signal, or of one piece. */
export function coherenceOf(
  x: Float64Array,
  y: Float64Array,
  rate: number,
  choices: SpectrumChoices = {},
): Coherence | undefined {
  const found = crossPower([x, y], rate, choices)
  if (found === undefined || found.pieces < 2) return undefined
  const [[xx, xy], [, yy]] = found.power as [[ComplexArrays, ComplexArrays], [ComplexArrays, ComplexArrays]]
  const coherence = found.frequency.map((_, k) => {
    const both = xx.re[k]! * yy.re[k]!
    return both === 0 ? 0 : (xy.re[k]! ** 2 + xy.im[k]! ** 2) / both
  })
  return { frequency: found.frequency, coherence, pieces: found.pieces }
}

/** Averaged products of the transforms of signals, one with the conjugate of the other, as one-sided densities. */
function crossPower(
  signals: readonly Float64Array[],
  rate: number,
  { window = 'hann', piece, pieces: wanted = usualPieces }: SpectrumChoices,
) {
  const count = Math.min(...signals.map(({ length }) => length))
  if (count < leastSamples) return undefined
  const n = piece ?? powerOfTwoWithin(Math.max(leastSamples, (2 * count) / (wanted + 1)))
  assert(n <= count && (n & (n - 1)) === 0, 'A piece of a spectrum is a power of two of samples, no longer than the signal.')
  const weights = weightsOf(window, n)
  const energy = weights.reduce((sum, w) => sum + w * w, 0)
  const power = signals.map((_, i) => signals.map((__, j) => (j < i ? empty(0) : empty(n / 2 + 1))))
  let pieces = 0
  for (let start = 0; start + n <= count; start += n / 2) {
    const transforms = signals.map((values) => transformOf(values.subarray(start, start + n), weights))
    pieces++
    for (let i = 0; i < signals.length; i++)
      for (let j = i; j < signals.length; j++) addProduct(transforms[i]!, transforms[j]!, power[i]![j]!)
  }
  const frequency = Float64Array.from({ length: n / 2 + 1 }, (_, k) => (k * rate) / n)
  for (const { re, im } of power.flat())
    for (let k = 0; k < re.length; k++) {
      // what lies at negative frequencies counts with its mirror image; 0 and half the rate have none
      const scale = (k === 0 || k === n / 2 ? 1 : 2) / (rate * energy * pieces)
      re[k]! *= scale
      im[k]! *= scale
    }
  return { frequency, power, pieces, resolution: rate / n }
}

function empty(count: number): ComplexArrays {
  return { re: new Float64Array(count), im: new Float64Array(count) }
}

/** sum += conjugate(a) b */
function addProduct(a: ComplexArrays, b: ComplexArrays, sum: ComplexArrays): void {
  for (let k = 0; k < sum.re.length; k++) {
    sum.re[k]! += a.re[k]! * b.re[k]! + a.im[k]! * b.im[k]!
    sum.im[k]! += a.re[k]! * b.im[k]! - a.im[k]! * b.re[k]!
  }
}

function transformOf(values: Float64Array, weights: Float64Array): ComplexArrays {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length
  const made = { re: values.map((value, k) => (value - mean) * weights[k]!), im: new Float64Array(values.length) }
  fourier(made)
  return made
}

function weightsOf(window: WindowName, n: number): Float64Array {
  switch (window) {
    case 'hann':
      return Float64Array.from({ length: n }, (_, k) => 0.5 - 0.5 * cos((2 * Math.PI * k) / n))
    case 'rectangular':
      return new Float64Array(n).fill(1)
    default:
      return window satisfies never
  }
}
