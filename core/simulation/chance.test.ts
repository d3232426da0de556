// Turbulence by its spectrum.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { compile, findColumn, start } from './index'

/** A vane so light against its drag that it goes with the air along each axis: its speed is the wind's. */
function vane(air: Values): Document {
  const slide = (on: string, axis: readonly number[]) => jointPart('sliding', on, [0, 0, 0], { axis, start: 0 })
  const none: [number, number, number] = [0, 0, 0]
  const machine = mechanismPart(
    {
      x: bodyPart(0, none, none, slide('ground', [1, 0, 0])),
      y: bodyPart(0, none, none, slide('x', [0, 1, 0])),
      z: bodyPart(1, none, [0.01, 0.01, 0.01], slide('y', [0, 0, 1])),
    },
    {
      gravity: 0,
      forces: { drag: { kind: 'airDrag', body: 'z', at: [0, 0, 0], linear: 400, quadratic: 0 } },
      surroundings: { air: { kind: 'evenAir', density: 1.225 }, ...air },
    },
  )
  return oneMachine(machine, {}, { cues: {}, after: 600, step: 0.01, method: 'fixed', realism: realismWith(['air', 'gusts']) })
}

function flown(document: Document, seed = 7) {
  const { resolved } = expectDone(checkDocument(document))
  const record = start(expectDone(compile(resolved, 'run', { seed }))).run({ trial: 'run', layers: [], seed })
  return { dt: record.time[1]!, column: (name: string) => [...findColumn(record, `m.${name}.rate`)!] }
}

interface Dryden {
  readonly V: number
  readonly sigma: number
  readonly Lu: number
  readonly Lw: number
  readonly w: readonly number[]
}

interface DrydenExpected {
  readonly Phi_u: readonly number[]
  readonly Phi_w: readonly number[]
  readonly variance_u: number
  readonly variance_w: number
  readonly autocorr_u_at_1s: number
  readonly autocorr_w_at_1s: number
}

const dryden = reference<Dryden, DrydenExpected>('air-dryden')

describe('turbulence', () => {
  const { inputs: given, expected } = dryden
  const air = (towards = 0) => ({
    turbulence: {
      ...{ kind: 'drydenAir', deviations: [given.sigma, given.sigma, given.sigma], speed: given.V, towards },
      lengths: [given.Lu, given.Lw, given.Lw],
    },
  })

  it(`has the variance, autocorrelation and spectrum of ${dryden.source}`, () => {
    const document = vane(air())
    const runs = Array.from({ length: 10 }, (_, seed) => flown(document, seed + 1))
    const every = Math.round(0.1 / runs[0]!.dt) // what happens faster is next to nothing
    const dt = every * runs[0]!.dt
    for (const [axis, variance, after, spectrum] of [
      ['x', expected.variance_u, expected.autocorr_u_at_1s, expected.Phi_u],
      ['z', expected.variance_w, expected.autocorr_w_at_1s, expected.Phi_w],
    ] as const) {
      const all = runs.map(({ column }) => column(axis).filter((_, i) => i > 0 && i % every === 0))
      // 10 runs of 600 s with about 21 s between independent values: a deviation of 8 %
      expect(mean(all.map((one) => mean(one.map((v) => v * v))))).toBeNear(variance, { relative: 0.25 })
      const lag = Math.round(1 / dt)
      expect(mean(all.map((one) => mean(one.slice(lag).map((v, i) => v * one[i]!))))).toBeNear(after, { relative: 0.25 })
      given.w.forEach((w, i) => {
        const seen = mean(all.map((one) => periodogram(one, dt, w)))
        // chi-square of 10 runs by 9 neighbouring frequencies: a deviation of 11 %; the lowest is smeared by the length
        expect(seen).toBeNear(spectrum[i]!, { relative: 0.35 })
      })
    }
  })

  it('is turned towards where it goes, and is another with another seed', () => {
    const [along, turned] = [flown(vane(air())), flown(vane(air(Math.PI / 2)))]
    expect(turned.column('y').slice(100, 200)).toBeNear(along.column('x').slice(100, 200), { absolute: 1e-9 })
    expect(flown(vane(air()), 8).column('x')[5000]).not.toBe(along.column('x')[5000])
    expect(flown(vane(air())).column('x')).toEqual(along.column('x'))
  })

  it.each([
    ['without energy', { deviations: [0, 0, 0] }, 'deviations', 'The turbulence has no energy.'],
    ['with a deviation below 0', { deviations: [1, -1, 1] }, 'deviations', 'A deviation of the turbulence is below 0.'],
    ['without a scale', { lengths: [30, 0, 10] }, 'lengths', 'A scale of the turbulence is not above 0.'],
  ])('%s is refused where it is said', (_what, more, slot, what) => {
    const outcome = checkDocument(vane({ turbulence: { ...air().turbulence, ...more } }))
    expect(outcome).toMatchObject({ kind: 'refused', problems: [{ where: `machines.m.surroundings.turbulence.${slot}`, what }] })
  })

  it('stands still where the layer Wind is off', () => {
    const still = vane(air())
    const off = { ...still, trials: { run: { ...still.trials.run!, realism: realismWith(['air']) } } } as Document
    expect(Math.max(...flown(off).column('x').map(Math.abs))).toBe(0)
  })
})

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length

/** One-sided, in (m/s)² s: of the frequencies around one, rad/s, with a cosine window. */
function periodogram(values: readonly number[], dt: number, w: number): number {
  const step = (2 * Math.PI) / (values.length * dt)
  const around = Array.from({ length: 9 }, (_, i) => w + (i - 4) * step)
  return mean(
    around.map((frequency) => {
      let [re, im, weight] = [0, 0, 0]
      values.forEach((value, k) => {
        const window = 0.5 * (1 - Math.cos((2 * Math.PI * k) / values.length))
        re += window * value * Math.cos(frequency * k * dt)
        im += window * value * Math.sin(frequency * k * dt)
        weight += window * window
      })
      return ((re * re + im * im) * dt) / (Math.PI * weight)
    }),
  )
}
