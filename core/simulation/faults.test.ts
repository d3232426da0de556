// Faults of signals: against the same signal altered by hand, and against closed forms of the loop that is left.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { alterableSignals, compile, cues as cueKinds, findColumn, start } from './index'

/** A sled of 2 kg on a rail with a drive, an encoder and a tachometer; nothing rubs. */
const sled = mechanismPart(
  { sled: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0] })) },
  {
    gravity: 0,
    drives: { motor: { kind: 'effortDrive', joint: 'sled.travel', most: 1000 } },
    sensors: {
      encoder: { kind: 'encoder', joint: 'sled.travel', rate: 100, resolution: 0 },
      tachometer: { kind: 'tachometer', joint: 'sled.travel', rate: 100 },
    },
  },
)
const hold = { holds: 'sled.travel', pushes: 'drives.motor', reads: 'measured', law: { kind: 'pdOnRate' }, tuning: { kind: 'typedGains', kp: 8, ki: 0, kd: 8 } } // prettier-ignore
const rise = { kind: 'sineCue', loop: 'hold', at: 0, by: 1, frequency: 2, over: 5 }

function documentOf(cues: object, loop: Values = {}, more: Values = {}): Document {
  const realism = realismWith(['sampling', 'sensorErrors'])
  return oneMachine(sled, { hold: { ...hold, ...loop } }, { cues, after: 1, step: 0.005, realism, ...more })
}
function flown(document: Document, seed = 5) {
  const { resolved } = expectDone(checkDocument(document))
  const record = start(expectDone(compile(resolved, 'run', { seed }))).run({ trial: 'run', layers: [], seed })
  return { time: [...record.time], column: (name: string) => [...findColumn(record, name)!] }
}

const read = 'm.sled.travel.measured'
const truth = 'm.sled.travel'
/** The true signal and what is read of it, row by row, with a fault on the reading from 1 s on for 3 s. */
function faulty(fault: Values, until: Values | undefined = { kind: 'lasting', time: 3 }) {
  const { time, column } = flown(documentOf({ rise, fault: { at: 1, signal: read, ...fault, ...(until && { until }) } }))
  return { time, exact: column(truth), given: column(read) }
}

describe('a fault of a reading', () => {
  type ByHand = (exact: number, t: number, row: number, all: readonly number[]) => number
  const period = (t: number) => t - 1 - 0.5 * Math.floor((t - 1) / 0.5 + 1e-9)
  it.each<[string, Values, ByHand]>([
    ['sticks at its last value', { kind: 'stuckFault' }, (_x, _t, _row, all) => all[99]!],
    ['is lost', { kind: 'lostFault', instead: 0.25 }, () => 0.25],
    ['is scaled', { kind: 'scaledFault', factor: 1.5 }, (x) => 1.5 * x],
    ['is off', { kind: 'offsetFault', by: -0.1 }, (x) => x - 0.1],
    ['drifts', { kind: 'driftingFault', rate: 0.05 }, (x, t) => x + 0.05 * (t - 1)],
    ['comes in steps', { kind: 'coarseFault', step: 0.125 }, (x) => 0.125 * Math.floor(x / 0.125 + 0.5)],
    ['is limited', { kind: 'limitedFault', least: -0.1, most: 0.3 }, (x) => Math.min(0.3, Math.max(-0.1, x))],
    ['is replaced', { kind: 'replacedFault', formula: '2 * value + sin(t) + since' }, (x, t) => 2 * x + Math.sin(t) + t - 1],
    ['comes late', { kind: 'lateFault', delay: 0.2 }, (_x, _t, row, all) => all[row - 20]!],
    ['comes and goes', { kind: 'loosenedFault', gone: 0.2, period: 0.5 }, (x, t, row, all) => (period(t) < 0.2 - 1e-9 ? all[row - 1 - Math.round(100 * period(t))]! : x)], // prettier-ignore
  ])('%s, while it lasts', (_what, fault, byHand) => {
    const { time, exact, given } = faulty(fault)
    const expected = exact.map((x, row) => (row >= 100 && row < 400 ? byHand(x, time[row]!, row, exact) : x))
    expect(given).toBeNear(expected, { absolute: 1e-12 })
    // it must have been able to fail
    expect(Math.max(...exact.map((x, row) => Math.abs(x - given[row]!)))).toBeGreaterThan(0.02)
  })

  it('is noisy: as widely as it says, white, another with another seed, the same with the same', () => {
    const fault = { fault: { kind: 'noisyFault', at: 1, signal: read, deviation: 0.2 } }
    const noise = (seed: number) => {
      const { column } = flown(documentOf({ rise, ...fault }, { closed: false }, { after: 60 }), seed)
      const exact = column(truth)
      return column(read).map((value, row) => value - exact[row]!).slice(100) // prettier-ignore
    }
    const [one, other] = [noise(1), noise(2)]
    const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length
    expect(Math.sqrt(mean(one.map((value) => value * value)))).toBeNear(0.2, { relative: 0.03 })
    expect(mean(one.slice(1).map((value, k) => value * one[k]!)) / 0.04).toBeNear(0, { absolute: 0.04 })
    expect(mean(one.map((value, k) => value * other[k]!)) / 0.04).toBeNear(0, { absolute: 0.04 })
    expect(noise(1)).toEqual(one)
  })

  it('comes in and goes along straight lines', () => {
    const { time, exact, given } = faulty({ kind: 'offsetFault', by: 0.4, over: 0.5 })
    const share = (t: number) => Math.min(1, Math.max(0, (t - 1) / 0.5)) * (1 - Math.min(1, Math.max(0, (t - 4) / 0.5)))
    expect(given.map((value, row) => value - exact[row]!)).toBeNear(time.map((t) => 0.4 * share(t)), { absolute: 1e-12 }) // prettier-ignore
  })

  it('meets the others of its signal in the order in which they stand', () => {
    const both = (cues: object) => {
      const { column } = flown(documentOf({ rise, ...cues }))
      return [column(truth)[300]!, column(read)[300]!] as const
    }
    const scaled = { kind: 'scaledFault', at: 1, signal: read, factor: 2 }
    const off = { kind: 'offsetFault', at: 1, signal: read, by: 0.5 }
    const [first, later] = [both({ scaled, off }), both({ off, scaled })]
    expect(first[1]).toBeNear(2 * first[0] + 0.5, { absolute: 1e-12 })
    expect(later[1]).toBeNear(2 * (later[0] + 0.5), { absolute: 1e-12 })
  })
})

describe('a fault of another signal', () => {
  it('of a command: what reaches the machine is what is altered, whatever the loop wants', () => {
    const fault = { kind: 'limitedFault', at: 0, signal: 'loops.hold.command', least: -0.5, most: 0.5 }
    const step = { kind: 'stepCue', loop: 'hold', at: 0.5, by: 3 }
    const { column } = flown(documentOf({ step, fault }))
    expect(Math.max(...column('loops.hold.command'))).toBe(0.5)
    // m v' = 0.5 while it is at its limit
    expect(column('m.sled.rate')[100]!).toBeNear((0.5 / 2) * 0.5, { absolute: 1e-9 })
  })

  it('of what a drive is asked: stuck, it goes on pushing as it did', () => {
    const fault = { kind: 'stuckFault', at: 1, signal: 'm.drives.motor.asked' }
    const { column, time } = flown(documentOf({ rise, fault }))
    const asked = column('m.drives.motor.asked')
    expect(new Set(asked.slice(99)).size).toBe(1)
    const rate = column('m.sled.rate')
    expect(rate.slice(100)).toBeNear(time.slice(100).map((t) => rate[100]! + (asked[99]! / 2) * (t - 1)), { absolute: 1e-9 }) // prettier-ignore
  })

  it('of a reference: the loop follows what it reads', () => {
    const step = { kind: 'stepCue', loop: 'hold', at: 0, by: 1 }
    const fault = { kind: 'offsetFault', at: 0, signal: 'loops.hold.reference', by: 0.25 }
    const { column } = flown(documentOf({ step, fault }, {}, { after: 8 }))
    expect(column('loops.hold.reference').at(-1)!).toBe(1.25)
    expect(column(truth).at(-1)!).toBeNear(1.25, { absolute: 1e-5 })
  })

  it('reads another signal as it was when the tick began', () => {
    const fault = { kind: 'replacedFault', at: 1, signal: read, formula: 'm.sled.rate / 2 + loops.hold.error' }
    const { column } = flown(documentOf({ rise, fault }))
    const [rate, exact, asked, given] = ['m.sled.rate', truth, 'loops.hold.reference', read].map(column)
    const at = 250
    // what is true is known when the tick begins, what a loop was asked is of the tick before
    expect(given![at]!).toBeNear(rate![at]! / 2 + asked![at - 1]! - exact![at]!, { absolute: 1e-12 })
  })
})

describe('the loop that is left', () => {
  // a sensor stuck at e under PD on its own rate: m x'' = kp (r - e) - kd x', by hand: the speed goes to kp (r - e)/kd
  it('runs open behind a stuck sensor, as the closed form says', () => {
    const step = { kind: 'stepCue', loop: 'hold', at: 0, by: 1 }
    const fault = { kind: 'stuckFault', at: 0.5, signal: read }
    const { column, time } = flown(documentOf({ step, fault }, { rate: 100 }, { after: 6 }))
    const [x, v] = [column(truth), column('m.sled.rate')]
    const stuck = column(read).at(-1)!
    expect(stuck).toBe(column(read)[49])
    const steady = (8 * (1 - stuck)) / 8
    // each sample holds its command: v+ = v + (dt/m) (kp (r - e) - kd v), so what is left fades by 1 - kd dt/m a sample
    const fades = 1 - (8 * 0.01) / 2
    const expected = time.slice(50).map((_, k) => steady + (v[50]! - steady) * fades ** k)
    expect(v.slice(50)).toBeNear(expected, { absolute: 1e-9 })
    expect(x.at(-1)!).toBeGreaterThan(3) // it runs away where a closed loop would stay at 1
  })

  it('keeps an error of force over gain by a proportional law, none with an integral: common practice, no source', () => {
    const push = { kind: 'pushCue', body: 'sled', at: 1, over: 60, x: 2, y: 0, z: 0 }
    const last = (law: string, ki: number) => {
      const loop = { reads: 'true', law: { kind: law }, tuning: { kind: 'typedGains', kp: 8, ki, kd: 8 } }
      return flown(documentOf({ push }, loop, { after: 0.001 }))
        .column(truth)
        .at(-2)!
    }
    expect(last('pdOnRate', 0)).toBeNear(2 / 8, { absolute: 1e-6 })
    expect(last('proportionalIntegralDerivative', 4)).toBeNear(0, { absolute: 1e-4 })
  })
})

describe('the signals that a fault can sit on', () => {
  it('are those that something reads, with their units, and each is in the run', () => {
    const document = expectDone(checkDocument(documentOf({}))).resolved
    expect(alterableSignals(document, 'm').map(({ name, unit }) => [name, unit])).toEqual([
      ['m.sled.travel.measured', 'm'],
      ['m.sled.rate.measured', 'm/s'],
      ['loops.hold.reference', 'm'],
      ['loops.hold.command', 'N'],
      ['m.drives.motor.asked', 'N'],
    ])
    const faults = cueKinds.filter(({ alters }) => alters !== undefined)
    for (const { name } of alterableSignals(document, 'm'))
      for (const { name: kind } of faults) {
        const formula = kind === 'replacedFault' ? { formula: 'value' } : {}
        expect(flown(documentOf({ rise, fault: { kind, at: 1, signal: name, ...formula, ...(kind === 'driftingFault' && { rate: 0 }), ...(kind === 'offsetFault' && { by: 0 }), ...(kind === 'noisyFault' && { deviation: 0 }) } })).column(name).length).toBe(601) // prettier-ignore
      }
  })
})
