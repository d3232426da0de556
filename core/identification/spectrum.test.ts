import { describe, expect, it } from 'vitest'
import { correlationOf } from './correlation'
import { backFromFourier, fourier } from './fourier'
import type { ComplexArrays } from './fourier'
import { coherenceOf, spectrumOf } from './spectrum'

/** Numbers between -1 and 1 that repeat with their seed. */
function noise(count: number, seed: number): Float64Array {
  let state = seed
  return Float64Array.from({ length: count }, () => {
    state = (Math.imul(state, 1664525) + 1013904223) | 0
    return state / 2 ** 31
  })
}
const sampled = (count: number, rate: number, of: (t: number) => number) =>
  Float64Array.from({ length: count }, (_, k) => of(k / rate))
const sum = (values: Iterable<number>) => [...values].reduce((all, one) => all + one, 0)

describe('averaging', () => {
  it('makes a spectrum of noise smoother by the root of its pieces, and tells frequencies apart less', () => {
    const values = noise(4096, 7)
    const [one, many] = [1, 32].map((pieces) => spectrumOf(values, 100, { pieces })!)
    expect([one!.pieces, many!.pieces]).toEqual([1, 63])
    expect(many!.resolution / one!.resolution).toBe(32)
    const scatter = ({ density }: { density: Float64Array }) => {
      const inner = density.subarray(1, -1)
      const mean = sum(inner) / inner.length
      return Math.sqrt(sum(inner.map((d) => (d - mean) ** 2)) / inner.length) / mean
    }
    // of one piece as large as the mean: Bendat and Piersol, Random Data, section 8.5
    expect(scatter(one!)).toBeGreaterThan(0.8)
    expect(scatter(many!)).toBeLessThan(0.35)
  })
})

describe('a Fourier transform', () => {
  it('is the sum that defines it', () => {
    const [re, im] = [noise(16, 1), noise(16, 2)]
    const made = { re: re.slice(), im: im.slice() }
    fourier(made)
    for (let k = 0; k < 16; k++) {
      const turn = (n: number) => (-2 * Math.PI * k * n) / 16
      expect(made.re[k]).toBeCloseTo(sum(re.map((x, n) => x * Math.cos(turn(n)) - im[n]! * Math.sin(turn(n)))), 12)
      expect(made.im[k]).toBeCloseTo(sum(re.map((x, n) => x * Math.sin(turn(n)) + im[n]! * Math.cos(turn(n)))), 12)
    }
  })

  it('keeps the energy (Parseval) and goes back', () => {
    const [re, im] = [noise(1024, 3), noise(1024, 4)]
    const made = { re: re.slice(), im: im.slice() }
    fourier(made)
    const energy = ({ re: a, im: b }: ComplexArrays) => sum(a.map((x, k) => x * x + b[k]! ** 2))
    expect(energy(made) / 1024).toBeNear(energy({ re, im }), { relative: 1e-13 })
    backFromFourier(made)
    expect([...made.re]).toBeNear([...re], { absolute: 1e-14 })
    expect([...made.im]).toBeNear([...im], { absolute: 1e-14 })
  })

  it('takes no other count than a power of two', () => {
    expect(() => fourier({ re: new Float64Array(12), im: new Float64Array(12) })).toThrow(/power of two/)
  })
})

describe('a spectrum', () => {
  const total = ({ density, resolution }: NonNullable<ReturnType<typeof spectrumOf>>) => sum(density) * resolution

  it('adds up to the variance, exactly with a rectangular window over all of it', () => {
    const values = noise(2048, 5)
    const mean = sum(values) / 2048
    const variance = sum(values.map((x) => (x - mean) ** 2)) / 2048
    const found = spectrumOf(values, 50, { window: 'rectangular', piece: 2048 })!
    expect(total(found)).toBeNear(variance, { relative: 1e-12 })
    // averaged, and weighted at their ends, pieces keep it on average
    expect(total(spectrumOf(values, 50)!)).toBeNear(variance, { relative: 0.05 })
  })

  it('has all of a sine at its frequency, and its power is half the square of its amplitude', () => {
    // 12.5 Hz is the 64th of 1024 at 200 Hz; Hann's window spreads it over three
    const found = spectrumOf(
      sampled(8192, 200, (t) => 3 * Math.sin(2 * Math.PI * 12.5 * t)),
      200,
      { piece: 1024 },
    )!
    const peak = found.density.indexOf(Math.max(...found.density))
    expect(found.frequency[peak]).toBe(12.5)
    expect(total(found)).toBeNear(4.5, { relative: 1e-12 })
    expect(sum(found.density.subarray(peak - 1, peak + 2)) * found.resolution).toBeNear(4.5, { relative: 1e-12 })
  })

  it('is lower by 1.42 dB for a sine halfway between two frequencies', () => {
    // F. J. Harris, On the Use of Windows for Harmonic Analysis with the Discrete Fourier Transform, Proc. IEEE 66 (1978),
    // table 1, from memory: Hann's scallop loss is 1.42 dB; by hand 8 / (3 pi)
    const at = (frequency: number) => {
      const values = sampled(16384, 1024, (t) => Math.sin(2 * Math.PI * frequency * t + 0.3))
      return Math.max(...spectrumOf(values, 1024, { piece: 1024 })!.density)
    }
    const loss = 10 * Math.log10(at(200.5) / at(200))
    expect(loss).toBeCloseTo(-1.42, 2)
    expect(at(200.5) / at(200)).toBeNear((8 / (3 * Math.PI)) ** 2, { relative: 1e-4 }) // mirror image at negative frequencies
  })

  it('of a chirp lies where it sweeps, evenly', () => {
    // from 10 to 40 Hz in 64 s: pi (30/64) t² + 2 pi 10 t
    const found = spectrumOf(
      sampled(16384, 256, (t) => Math.sin(2 * Math.PI * (10 * t + (30 / 128) * t * t))),
      256,
      { piece: 1024 },
    )!
    const within = (low: number, high: number) =>
      sum(found.density.filter((_, k) => found.frequency[k]! >= low && found.frequency[k]! < high)) * found.resolution
    expect(within(9, 41) / total(found)).toBeGreaterThan(0.999)
    expect(within(15, 20)).toBeNear(within(30, 35), { relative: 0.1 })
    expect(within(15, 20)).toBeNear(0.5 * (5 / 30), { relative: 0.1 })
  })

  it('is nothing of a signal that is too short', () => {
    expect(spectrumOf(new Float64Array(15), 10)).toBeUndefined()
  })
})

describe('a coherence', () => {
  it('is 1 where one signal follows the other, and what is left of it in noise', () => {
    const x = noise(65536, 6)
    const scaled = coherenceOf(x, x.map((value) => -2 * value), 100, { piece: 256 })! // prettier-ignore
    expect(Math.min(...scaled.coherence.subarray(1))).toBeGreaterThan(1 - 1e-12)
    // as much noise as signal: half of the power is explained
    const other = noise(65536, 7)
    const noisy = coherenceOf(x, x.map((value, k) => value + other[k]!), 100, { piece: 256 })! // prettier-ignore
    expect(sum(noisy.coherence) / noisy.coherence.length).toBeCloseTo(0.5, 1)
    const apart = coherenceOf(x, other, 100, { piece: 256 })!
    expect(sum(apart.coherence) / apart.coherence.length).toBeLessThan(0.01)
  })

  it('tells nothing of one piece', () => {
    expect(coherenceOf(noise(256, 8), noise(256, 9), 10, { piece: 256 })).toBeUndefined()
  })
})

describe('a correlation', () => {
  const bump = (t: number) => Math.exp(-(((t - 4) / 0.4) ** 2)) - 0.6 * Math.exp(-(((t - 6) / 0.3) ** 2))

  it.each([0, 0.05, 0.0734, -0.41])('finds a delay of %f s, also between samples', (delay) => {
    const [a, b] = [sampled(500, 50, bump), sampled(500, 50, (t) => bump(t - delay))]
    const { best, unmoved } = correlationOf(a, b, 50, 2)!
    expect(best.lag).toBeCloseTo(delay, 3)
    expect(best.value).toBeGreaterThan(0.99)
    if (Math.abs(delay) > 0.1) expect(unmoved).toBeLessThan(best.value)
  })

  it('is the coefficient of correlation where nothing is moved', () => {
    const [a, b] = [noise(200, 10), noise(200, 11)]
    const about = (values: Float64Array) => values.map((x) => x - sum(values) / 200)
    const [x, y] = [about(a), about(b)]
    const r = sum(x.map((value, k) => value * y[k]!)) / Math.sqrt(sum(x.map((v) => v * v)) * sum(y.map((v) => v * v)))
    expect(correlationOf(a, b, 1, 5)!.unmoved).toBeNear(r, { absolute: 1e-12 })
  })

  it('is nothing of a signal that stands still', () => {
    expect(correlationOf(new Float64Array(50), noise(50, 1), 1, 5)).toBeUndefined()
  })
})
