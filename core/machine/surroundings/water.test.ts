// Waves of deep water and seas by their spectrum, and what floats on them.
import { describe, expect, it } from 'vitest'
import type { Part } from '../../document'
import { bodyPart, jointPart, mechanismPart } from '../../tests/parts'
import { reference } from '../../tests/reference'
import { fullMechanism, machineProblems, mechanismForm, mechanismMotion, numbersOf, outsideOf, waterAt } from '../index'
import { surroundings } from './index'
import { jonswapShape, seaOf, waveNumber } from './water'
import type { Water } from './water'

interface Waves {
  readonly g: number
  readonly spectra_Hs_Tp_gamma: readonly (readonly [number, number, number])[]
}
interface WavesExpected {
  readonly waves: readonly { readonly omega: number; readonly wave_number: number; readonly phase_speed: number }[]
  readonly spectra: readonly {
    readonly exact_normaliser: number
    readonly S_at: Readonly<Record<string, number>>
    readonly m0: number
  }[]
}
const { inputs, expected, source } = reference<Waves, WavesExpected>('sea-waves-spectrum')

/** The water of a part of the surroundings at a place and time. */
function waterOf(part: Part, time: number, x = 0, y = 0): Water {
  const kind = surroundings.find(({ name }) => name === part.kind)!
  const read = (path: string) => part[path.replace('surroundings.w.', '')] as number
  return kind.water!(outsideOf(part, 'surroundings.w', read, { time, gravity: inputs.g }), x, y)
}

const sea = { kind: 'irregularSea', height: 2, period: 8, peakedness: 3.3, seed: 4, towards: 0.3, level: 1, density: 1025 }
const swell = { kind: 'regularWaves', height: 1.2, period: 6, towards: 0.4, level: 0.5, density: 1000 }

describe(`waves: ${source}`, () => {
  it('are as long and as fast as those of deep water', () => {
    for (const { omega, wave_number: k, phase_speed: speed } of expected.waves) {
      expect(waveNumber(omega, inputs.g) as number).toBeNear(k, { relative: 1e-9 })
      expect(omega / (waveNumber(omega, inputs.g) as number)).toBeNear(speed, { relative: 1e-9 })
    }
  })

  it('have the JONSWAP spectrum, with its own size', () => {
    inputs.spectra_Hs_Tp_gamma.forEach(([height, period, peakedness], i) => {
      const peak = (2 * Math.PI) / period
      const { exact_normaliser: size, S_at: at } = expected.spectra[i]!
      for (const [omega, value] of Object.entries(at)) {
        const shape = jonswapShape(Number(omega) / peak, peakedness) as number
        expect((size * 5 * height ** 2 * shape) / (16 * peak)).toBeNear(value, { relative: 1e-6 })
      }
    })
  })

  it('of a sea carry its energy exactly, spread as the spectrum says', () => {
    const [height, period, peakedness] = inputs.spectra_Hs_Tp_gamma[0]!
    const { exact_normaliser: size } = expected.spectra[0]!
    const peak = (2 * Math.PI) / period
    const S = (omega: number) => (size * 5 * height ** 2 * (jonswapShape(omega / peak, peakedness) as number)) / (16 * peak)
    const all = Array.from({ length: 40 }, (_, seed) => seaOf(height, period, peakedness, seed)).map((waves) =>
      waves.map(({ amplitude, frequency }) => ({ energy: (amplitude as number) ** 2 / 2, omega: frequency as number })),
    )
    for (const waves of all) expect(total(waves.map(({ energy }) => energy))).toBeNear(height ** 2 / 16, { relative: 1e-12 })
    // over the seeds, the share below, about and above the peak
    for (const [from, to] of [
      [0, 0.9 * peak],
      [0.9 * peak, 1.15 * peak],
      [1.15 * peak, 2 * peak],
      [2 * peak, 9],
    ] as const) {
      // prettier-ignore
      const seen = total(all.flat().flatMap(({ energy, omega }) => (omega >= from && omega < to ? [energy] : []))) / all.length
      const steps = 4000
      const sum = total(Array.from({ length: steps }, (_, i) => S(from + ((to - from) * (i + 0.5)) / steps || 1e-9)))
      expect(seen).toBeNear((sum * (to - from)) / steps, { absolute: 0.04 * (height ** 2 / 16) })
    }
  })

  it('of a sea have over an hour the variance of a quarter of the significant height, about the level', () => {
    const at = waterAt({ kind: 'mechanism', gravity: inputs.g, surroundings: { sea } } as Part)!
    const heights = Array.from({ length: 7200 }, (_, i) => at(0, 0, i / 2) - 1)
    expect(total(heights) / heights.length).toBeNear(0, { absolute: 0.01 })
    expect(4 * Math.sqrt(total(heights.map((one) => one ** 2)) / heights.length)).toBeNear(2, { relative: 0.03 })
    const other = { ...sea, seed: 5 }
    expect(waterOf(other, 10).height).not.toBe(waterOf(sea, 10).height)
  })

  it.each([swell, sea])('of $kind tell how fast the surface rises and how steep it is', (part) => {
    const h = 1e-5
    const at = (t: number, x: number, y: number) => waterOf(part, t, x, y).height as number
    const { rising, slope, velocity } = waterOf(part, 7, 3, -2)
    expect(rising as number).toBeNear((at(7 + h, 3, -2) - at(7 - h, 3, -2)) / (2 * h), { absolute: 1e-7 })
    expect(slope[0] as number).toBeNear((at(7, 3 + h, -2) - at(7, 3 - h, -2)) / (2 * h), { absolute: 1e-7 })
    expect(slope[1] as number).toBeNear((at(7, 3, -2 + h) - at(7, 3, -2 - h)) / (2 * h), { absolute: 1e-7 })
    // a particle of the surface stays in it, to first order: no water passes through
    expect(velocity(part.level)[2] as number).toBeNear(rising as number, { absolute: 1e-12 })
    // and no water comes out of nothing
    const w = (x: number, y: number, z: number) => waterOf(part, 7, x, y).velocity(z) as readonly number[]
    const spread =
      (w(3 + h, -2, -2)[0]! - w(3 - h, -2, -2)[0]! + w(3, -2 + h, -2)[1]! - w(3, -2 - h, -2)[1]!) / (2 * h) +
      (w(3, -2, -2 + h)[2]! - w(3, -2, -2 - h)[2]!) / (2 * h)
    expect(spread).toBeNear(0, { absolute: 1e-7 })
  })
})

describe('a float', () => {
  const buoy = (z: number, water: Part, damping = 0) =>
    mechanismPart(
      { buoy: bodyPart(50, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [0, 0, 1], start: z })) },
      {
        forces: { float: { kind: 'floatColumn', body: 'buoy', at: [0, 0, 0], area: 0.2, height: 0.8, damping } },
        surroundings: { water },
      },
    )
  const still: Part = { kind: 'stillWater', level: 0, density: 1000 }
  const acceleration = (machine: Part, z: number, speed = 0) => {
    expect(machineProblems('m', machine)).toEqual([])
    const read = numbersOf(machine)
    const { rates } = mechanismMotion(machine, read, fullMechanism, mechanismForm(machine, read), [z, speed], [], [], 0)
    return rates[1] as number
  }
  const g = 9.80665

  it('is lifted by what it displaces, no more than its whole (Archimedes)', () => {
    expect(acceleration(buoy(0, still), -0.25)).toBeNear(0, { absolute: 1e-2 }) // 50 kg over 0.2 m² of water
    expect(acceleration(buoy(0, still), -0.5)).toBeNear(g, { relative: 1e-3 })
    expect(acceleration(buoy(0, still), -2)).toBeNear((1000 * 0.2 * 0.8 * g) / 50 - g, { relative: 1e-3 })
    expect(acceleration(buoy(0, still), 0.1)).toBeNear(-g, { relative: 1e-3 })
  })

  it('is damped by the water that goes by', () => {
    const [free, damped] = [acceleration(buoy(0, still), -0.4, 0.5), acceleration(buoy(0, still, 60), -0.4, 0.5)]
    expect(damped - free).toBeNear((-60 * 0.5 * 0.5) / 50, { relative: 1e-9 })
  })

  it.each([swell, sea])('stands in $kind as pictures of it show', (water) => {
    const at = waterAt(buoy(0, water))!
    for (const [x, y, t] of [
      [0, 0, 0],
      [3, -2, 7.5],
      [-20, 11, 31],
    ] as const)
      // prettier-ignore
      expect(at(x, y, t)).toBeNear(waterOf(water, t, x, y).height as number, { absolute: 1e-3 }) // their gravity is another
    expect(waterAt(buoy(0, still))!(3, 4, 5)).toBe(0)
  })

  it('says that a machine has two waters', () => {
    const twice = { ...buoy(0, still), surroundings: { a: still, b: swell } } as Part
    expect(machineProblems('m', twice)).toMatchObject([
      { where: 'm.surroundings.b', what: 'The surroundings give the water twice.' },
    ])
  })
})

const total = (values: readonly number[]) => values.reduce((a, b) => a + b, 0)
