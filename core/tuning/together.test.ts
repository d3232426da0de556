import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { complex, magnitude } from '../algebra'
import type { Complex } from '../algebra'
import { linearEstimators } from '../control'
import { replaceAt } from '../document'
import type { Document } from '../document'
import {
  channelMargins,
  fromPolynomials,
  frequencyGrid,
  frequencyResponse,
  isStable,
  responder,
  responseAt,
  simultaneousMargin,
} from '../linear'
import type { StateSpace } from '../linear'
import { compile, findColumn, start } from '../simulation'
import { demo, lampCascade, lamplighter } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import { numbersFrom } from '../tests/randomGraph'
import { linearPart, typedPart } from '../tests/parts'
import { analyse, designLoop, loopGain, loopsTogether, togetherFigures } from './index'
import { onUnitCircle } from './loopModel'

const checked = (document: Document) => expectDone(checkDocument(document)).resolved
const loopOf = (system: StateSpace) => (w: number) => frequencyResponse(system, w)

describe('margins of several channels', () => {
  // The spinning satellite of J. C. Doyle; Skogestad & Postlethwaite, Multivariable Feedback Control, 2nd ed., section 3.7.1
  // (from memory): each channel alone sees 1/s, and yet a tenth less in one and a tenth more in the other is the edge.
  const a = 10
  const satellite: StateSpace = {
    a: [
      [0, a],
      [-a, 0],
    ],
    b: [
      [1, 0],
      [0, 1],
    ],
    c: [
      [1, a],
      [-a, 1],
    ],
    d: [
      [0, 0],
      [0, 0],
    ],
    dt: null,
    ...{ states: ['x1', 'x2'], inputs: ['u1', 'u2'], outputs: ['y1', 'y2'] },
  }
  const grid = frequencyGrid(1e-3, 1e3)

  it('one at a time: 1/s in each channel of the spinning satellite', () => {
    for (const { phase, gain } of channelMargins(loopOf(satellite), 2, grid)) {
      expect(phase).toHaveLength(1)
      expect(phase[0]!.w).toBeCloseTo(1, 9)
      expect(phase[0]!.margin).toBeCloseTo(Math.PI / 2, 9)
      expect(gain.filter(({ factor }) => factor > 1e-6 && factor < 1e6)).toEqual([])
    }
  })

  it('at the same time: little more than its known edge allows', () => {
    const { factor, scales } = simultaneousMargin(loopOf(satellite), 2, grid)
    // 1 + e in one and 1 - e in the other is the edge at e = 1/sqrt(1 + a²)
    const edge = 1 / Math.sqrt(1 + a * a)
    expect(1 / factor).toBeGreaterThan(1 - edge)
    expect(factor).toBeLessThan(1.06 * (1 + edge))
    expect(factor).toBeGreaterThan(1.05)
    expect(scales[1]! / scales[0]!).toBeCloseTo(1, 2)
  })

  it('is never more than what holds: random plants stay stable at the corners of what it allows', () => {
    const next = numbersFrom(8)
    let nearest = Infinity
    for (let i = 0, used = 0; used < 30; i++) {
      const entry = (scale: number) => scale * (2 * next() - 1)
      const a = [0, 1, 2, 3].map((r) => [0, 1, 2, 3].map((c) => entry(1.5) - (r === c ? 1.5 : 0)))
      const [b, c] = [[0, 1, 2, 3].map(() => [entry(1), entry(1)]), [0, 1].map(() => [0, 1, 2, 3].map(() => entry(2)))]
      const plant: StateSpace = { ...satellite, a, b, c, states: ['x1', 'x2', 'x3', 'x4'] }
      const closed = (factors: readonly number[]) =>
        isStable({
          ...plant,
          a: a.map((row, r) => row.map((x, k) => x - b[r]![0]! * factors[0]! * c[0]![k]! - b[r]![1]! * factors[1]! * c[1]![k]!)),
        })
      if (!closed([1, 1])) continue
      used++
      const { factor } = simultaneousMargin(loopOf(plant), 2, grid)
      const most = Math.min(factor, 1e6)
      const corners = [-1, 0, 1].flatMap((x) => [-1, 0, 1].map((y) => [most ** x, most ** y]))
      for (const corner of corners) expect(closed(corner)).toBe(true)
      const beyond = corners.map((corner) => corner.map((one) => (one === 1 ? 1 : one ** 3)))
      if (beyond.some((corner) => !closed(corner))) nearest = Math.min(nearest, factor)
    }
    expect(nearest).toBeLessThan(3) // and it binds somewhere
  })

  it('does not depend on the units of the channels', () => {
    const [unit] = [1000]
    const other = { ...satellite, b: satellite.b.map(([x, y]) => [x!, y! * unit]), c: [satellite.c[0]!, satellite.c[1]!.map((v) => v / unit)] } // prettier-ignore
    const [one, two] = [satellite, other].map((system) => simultaneousMargin(loopOf(system), 2, grid))
    expect(two!.factor).toBeCloseTo(one!.factor, 3)
  })

  it('of one channel is the disk margin of a published example', () => {
    // Seiler, Packard & Gahinet, IEEE Control Systems Magazine 40 (2020), L = 25/(s³ + 10 s² + 10 s + 10): gains 0.63 to
    // 1.59, phase 26° (from memory)
    const loop = loopOf(fromPolynomials([25], [1, 10, 10, 10], null))
    const { factor, phase } = simultaneousMargin(loop, 1, grid)
    expect(factor).toBeCloseTo(1.59, 2)
    expect(1 / factor).toBeCloseTo(0.63, 2)
    expect((phase * 180) / Math.PI).toBeCloseTo(26, 0)
  })
})

const cart = typedPart({ speed: ['0', '-8 * speed + 40 * push'], place: ['0', 'speed'] }, { push: 0 })
const speed = { holds: 'speed', pushes: 'push', reference: 'command', law: { kind: 'proportionalIntegral' }, delay: 1, rate: 200 }
const cascade = (outerRate: number) =>
  checked(
    oneMachine(cart, {
      speed: { ...speed, tuning: { kind: 'typedGains', kp: 0.35, ki: 3, kd: 0 } },
      place: {
        holds: 'place',
        pushes: 'loops.speed',
        rate: outerRate,
        delay: 1,
        tuning: { kind: 'typedGains', kp: 4, ki: 0, kd: 0 },
      },
    }),
  )

describe('a response at many frequencies', () => {
  it('is that at each of them, for plants of every demo machine', () => {
    for (const name of ['lamplighter', 'derrick', 'pilot-cutter']) {
      const document = checked(demo(name))
      for (const loop of Object.keys(document.loops)) {
        const { sampled } = expectDone(designLoop(document, loop)).model
        const respond = responder(sampled)
        for (const angle of [1e-3, 0.02, 0.7, 3]) {
          const z = { re: Math.cos(angle), im: Math.sin(angle) }
          const [found, known] = [respond(z)!, responseAt(sampled, z)!].map((rows) => rows.map(([one]) => one!))
          known!.forEach(({ re, im }, i) => {
            const size = Math.max(...known!.map(magnitude))
            // near four poles at 1 both lose digits
            const close = angle < 0.01 ? 1e-7 : 1e-9
            expect(magnitude({ re: found![i]!.re - re, im: found![i]!.im - im })).toBeLessThan(close * size)
          })
        }
      }
    }
  })

  it('has none at a pole', () => {
    const pair = fromPolynomials([1], [1, 0, 4], null)
    expect(responder(pair)({ re: 0, im: 2 })).toBeUndefined()
    expect(responder(pair)({ re: 0, im: 1 })![0]![0]!.re).toBeCloseTo(1 / 3, 12)
  })
})

describe('all loops of a machine together', () => {
  it('is the loop itself where there is one, opened anywhere', () => {
    const document = checked(demo('lens-float'))
    const [name] = Object.keys(document.loops)
    const machine = document.loops[name!]!.machine
    const together = expectDone(loopsTogether(document, machine))
    const { model, gains } = expectDone(designLoop(document, name!))
    const alone = loopGain(model, gains)
    expect(together.loops).toEqual([name])
    for (const w of [0.5, 3, 12, 60])
      for (const at of ['commands', 'pushes'] as const) {
        const value = together.opened(at).gain(w)![0]![0]!
        expect([value.re, value.im]).toBeNear([alone(w)!.re, alone(w)!.im], { relative: 1e-8, absolute: 1e-12 })
      }
  })

  it.each([200, 50])('an outer loop at %d Hz sees what it was designed with', (outerRate) => {
    const document = cascade(outerRate)
    const { stable, opened, top } = expectDone(loopsTogether(document, 'm'))
    expect(stable).toBe(true)
    const { cuts, gain } = opened('commands')
    const found = channelMargins(gain, cuts.length, frequencyGrid(top / 1e4, top))[cuts.indexOf('place')]!
    const { model, gains } = expectDone(designLoop(document, 'place'))
    const designed = analyse(model, gains)
    // its own images of sampling are left out: nothing at one rate, little where the inner loop runs four times as often
    const close = outerRate === 200 ? 1e-8 : 2e-3
    expect(found.phase[0]!.w).toBeNear(designed.crossover!, { relative: close })
    expect(found.phase[0]!.margin).toBeNear(designed.phaseMargin!, { relative: close })
  })

  it('tells that loops which are stable alone upset each other', () => {
    const twin = linearPart(
      [
        [-1, 0],
        [0, -1],
      ],
      [
        [1, 3],
        [3, 1],
      ],
    )
    const loop = (i: number) => ({ holds: `x${i}`, pushes: `u${i}`, tuning: { kind: 'typedGains', kp: 5, ki: 0, kd: 0 } })
    const document = checked(oneMachine(twin, { one: loop(1), two: loop(2) }))
    for (const name of ['one', 'two']) {
      const { model, gains } = expectDone(designLoop(document, name))
      expect(analyse(model, gains).stable).toBe(true)
    }
    // 1 + L has det (s+6)² - 15²: a root at +9
    expect(expectDone(loopsTogether(document, 'm')).stable).toBe(false)
    // loops at rates that do not divide one another have no common map that is worked out here
    const odd = checked(oneMachine(twin, { one: loop(1), two: { ...loop(2), rate: 70 } }))
    expect(expectDone(loopsTogether(odd, 'm')).stable).toBeUndefined()
  })

  it('is stable with an integral that has no gain, whose pole at 1 moves nothing', () => {
    const law = { kind: 'proportionalIntegral' }
    const stable = (ki: number) => {
      const loop = { holds: 'place', pushes: 'push', law, rate: 200, tuning: { kind: 'typedGains', kp: 2, ki, kd: 0 } }
      return expectDone(loopsTogether(checked(oneMachine(cart, { loop })), 'm')).stable
    }
    expect([0, 1, 1e4].map(stable)).toEqual([true, true, false])
  })

  it('says what each keeps alone and what all keep at once, and what stands still', () => {
    const document = checked(replaceAt(demo('lens-turret'), 'loops.tilt.closed', false))
    const machine = Object.keys(document.machines)[0]!
    const { channels, atOnce, curve, still } = expectDone(togetherFigures(document, machine, 'commands'))
    expect(still).toEqual(['tilt'])
    expect(channels.map(({ name }) => name)).toEqual(['pan'])
    const { model, gains } = expectDone(designLoop(document, 'pan'))
    const alone = analyse(model, gains)
    expect(channels[0]!.phaseMargin).toBeNear(alone.phaseMargin!, { relative: 1e-3 })
    // one channel: what both ways of counting allow lies within the classical margins
    expect(atOnce!.phase).toBeLessThan(alone.phaseMargin!)
    const both = expectDone(togetherFigures(checked(demo('lens-turret')), machine, 'commands'))
    for (const { gain } of both.curve) expect(gain[0]).toBeGreaterThan(gain[1])
    expect(atOnce!.factor).toBeLessThan(channels[0]!.up!)
    expect(Math.max(...curve.map(({ sensitivity }) => sensitivity))).toBeNear(alone.margins.sensitivityPeak.factor, {
      relative: 5e-3,
    })
  })

  it('is what a loop sees that is designed with the others as in the trials', () => {
    const twin = linearPart(
      [
        [-1, 0],
        [0, -1],
      ],
      [
        [1, 0.4],
        [0.4, 1],
      ],
    )
    const loop = (i: number, more: object) => ({ holds: `x${i}`, pushes: `u${i}`, others: 'trial', ...more })
    const gains = { tuning: { kind: 'typedGains', kp: 5, ki: 0, kd: 0 } }
    const asked = { tuning: { kind: 'requirement', crossover: 6, phaseMargin: 1 } }
    const document = checked(oneMachine(twin, { one: loop(1, gains), two: loop(2, gains) }))
    const { opened } = expectDone(loopsTogether(document, 'm'))
    const found = channelMargins(opened('commands').gain, 2, frequencyGrid(0.01, 300))
    for (const [i, name] of ['one', 'two'].entries()) {
      const { model, gains: own } = expectDone(designLoop(document, name))
      const { crossover, phaseMargin } = analyse(model, own)
      expect([crossover, phaseMargin]).toBeNear([found[i]!.phase[0]!.w, found[i]!.phase[0]!.margin], { relative: 1e-8 })
    }
    // one of them may ask for a crossover; two that wait for one another are told so
    const oneAsks = checked(oneMachine(twin, { one: loop(1, gains), two: loop(2, asked) }))
    expect(analyse(expectDone(designLoop(oneAsks, 'two')).model, expectDone(designLoop(oneAsks, 'two')).gains).crossover).toBeNear(6, { relative: 1e-6 }) // prettier-ignore
    const bothAsk = checked(oneMachine(twin, { one: loop(1, asked), two: loop(2, asked) }))
    const refused = designLoop(bothAsk, 'one')
    expect(refused.kind === 'refused' && refused.problems[0]!.what).toMatch(/goes round/)
  })

  it('counts an observer: a run at the told gain margin is at the edge', () => {
    const spring = linearPart(
      [
        [0, 1],
        [4, -0.1],
      ],
      [[0], [1]],
    )
    const hold = {
      ...{ holds: 'x1', pushes: 'u1', reads: 'estimated', rate: 100, delay: 1 },
      ...{ law: { kind: 'stateFeedback', states: { a: { kind: 'fedBack', signal: 'x2' } } } },
      tuning: { kind: 'typedGains', kp: 12, ki: 0, kd: 0, states: [[5]] },
    }
    const reads = { a: { kind: 'observedSignal', signal: 'x1', noise: 0.02 } }
    const eye = { kind: 'observer', machine: 'm', rate: 100, disturbance: 0.5, reads }
    const flown = (times: number) => {
      const trial = {
        cues: { up: { kind: 'stepCue', loop: 'hold', at: 0.1, by: 1 } },
        after: 40,
        overrides: Object.fromEntries(
          ['b.0.0', 'b.1.0'].map((parameter, i) => [`o${i}`, { kind: 'override', parameter, how: 'times', amount: times }]),
        ),
      }
      const document = checked(oneMachine(spring, { hold }, trial, { eye }))
      const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
      const place = findColumn(record, 'm.x1')!
      const swing = (from: number) => {
        const part = [...place.slice(100 * from, 100 * (from + 4))]
        return Math.max(...part) - Math.min(...part)
      }
      return { document, grows: place.length < 3500 || swing(34) > 1.2 * swing(10), dies: swing(34) < 0.8 * swing(10) }
    }
    const { document } = flown(1)
    const { opened, top, stable } = expectDone(loopsTogether(document, 'm'))
    expect(stable).toBe(true)
    const { gain } = opened('pushes')
    const [found] = channelMargins(gain, 1, frequencyGrid(top / 1e4, top))
    const up = found!.gain.map(({ factor }) => factor).filter((factor) => factor > 1)
    const least = Math.min(...up)
    expect(least).toBeGreaterThan(1.2)
    expect(flown(0.97 * least).dies).toBe(true)
    expect(flown(1.03 * least).grows).toBe(true)
    // without the observer the same law stands far more
    const direct = checked(oneMachine(spring, { hold: { ...hold, reads: 'true' } }))
    const bare = expectDone(loopsTogether(direct, 'm')).opened('pushes')
    const [free] = channelMargins(bare.gain, 1, frequencyGrid(top / 1e4, top))
    expect(Math.min(...free!.gain.map(({ factor }) => factor).filter((factor) => factor > 1))).toBeGreaterThan(1.5 * least)
  })

  describe('with an observer', () => {
    const cart = linearPart(
      [
        [0, 1],
        [0, 0],
      ],
      [[0], [1]],
    )
    const of = (kp: number, kd: number, disturbance: number, rates = [100, 100]) =>
      checked(
        oneMachine(
          cart,
          {
            hold: {
              ...{ holds: 'x1', pushes: 'u1', reads: 'estimated', rate: rates[0], delay: 1 },
              law: { kind: 'stateFeedback', states: { a: { kind: 'fedBack', signal: 'x2' } } },
              tuning: { kind: 'typedGains', kp, ki: 0, kd: 0, states: [[kd]] },
            },
          },
          { cues: { up: { kind: 'stepCue', loop: 'hold', at: 0.1, by: 1 } }, after: 20 },
          {
            eye: {
              ...{ kind: 'observer', machine: 'm', rate: rates[1], disturbance },
              reads: { a: { kind: 'observedSignal', signal: 'x1', noise: 0.02 } },
            },
          },
        ),
      )
    /** Whether the run comes to rest. */
    const rests = (document: Document) => {
      const record = start(expectDone(compile(document, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
      const place = findColumn(record, 'm.x1')!
      const late = place.slice(Math.floor(0.8 * place.length))
      return record.ending.kind === 'finished' && Math.max(...late) - Math.min(...late) < 0.05
    }

    it.each([
      [9, 6, 0.5, [100, 100]],
      [2500, 100, 0.5, [100, 100]],
      [1600, 40, 5, [100, 100]],
      [9000, 180, 0.5, [100, 100]],
      [30, 12, 0.05, [100, 50]],
      [400, 40, 0.05, [50, 100]],
      [5000, 100, 0.5, [50, 100]],
    ])('one verdict of a cart held by gains %d and %d, whoever says it, and the run agrees', (kp, kd, disturbance, rates) => {
      const document = of(kp, kd, disturbance, rates)
      const { stable } = expectDone(loopsTogether(document, 'm'))
      expect(stable).toBe(rests(document))
      expect(alone(document, 'hold').stable).toBe(stable)
    })

    it.each([
      [9, 6, [100, 70]],
      [9000, 180, [100, 70]],
    ])('of a rate that does not divide the other is judged as the run says, gains %d and %d', (kp, kd, rates) => {
      const document = of(kp, kd, 0.5, rates)
      expect(expectDone(loopsTogether(document, 'm')).stable).toBeUndefined()
      expect(alone(document, 'hold').stable).toBe(rests(document))
    })

    it('that is slow is no fault of a law that integrates: the edge as the whole turns is not that of the law and observer alone', () => {
      const law = { law: { kind: 'proportionalIntegralDerivative' }, tuning: { kind: 'typedGains', kp: 4, ki: 4, kd: 6 } }
      const document = replaceAt<Document>(of(4, 6, 0.01), 'loops.hold', { ...of(4, 6, 0.01).loops.hold!, ...law })
      const slow = replaceAt<Document>(document, 'estimators.eye.reads.a.noise', 0.3)
      const longer = replaceAt<Document>(slow, 'trials.run.after', 200)
      expect(rests(longer)).toBe(true)
      expect(expectDone(loopsTogether(longer, 'm')).stable).toBe(true)
      expect(alone(longer, 'hold').stable).toBe(true)
    })
  })

  it('is the same product whichever side it is opened at, where each loop has one push and one reading', () => {
    const document = checked(demo('lens-turret'))
    const machine = Object.keys(document.machines)[0]!
    const { opened, stable } = expectDone(loopsTogether(document, machine))
    expect(stable).toBe(true)
    // det(1 + L) is the same at every cut
    const dets = (['commands', 'pushes', 'readings'] as const).map((at) => {
      const l = opened(at).gain(5)!
      return magnitude(determinant(l.map((row, i) => row.map(({ re, im }, j) => ({ re: re + (i === j ? 1 : 0), im })))))
    })
    expect(dets[1]).toBeNear(dets[0]!, { relative: 1e-9 })
    expect(dets[2]).toBeNear(dets[0]!, { relative: 1e-9 })
  })
})

function determinant(rows: readonly (readonly { re: number; im: number }[])[]): { re: number; im: number } {
  if (rows.length === 0) return { re: 1, im: 0 }
  return rows[0]!.reduce(
    (sum, value, j) => {
      const minor = determinant(rows.slice(1).map((row) => row.filter((_, k) => k !== j)))
      const sign = j % 2 === 0 ? 1 : -1
      return {
        re: sum.re + sign * (value.re * minor.re - value.im * minor.im),
        im: sum.im + sign * (value.re * minor.im + value.im * minor.re),
      }
    },
    { re: 0, im: 0 },
  )
}

/** A loop with what it sees when it is designed. */
function alone(document: Document, name: string) {
  const { model, gains } = expectDone(designLoop(document, name))
  return { ...analyse(model, gains), model, gains }
}

describe('a loop with what it estimates', () => {
  it('has its phase turned by its filter as the response of that says', () => {
    const document = lamplighter()
    const typed = { kind: 'typedGains', kp: 1.3, ki: 0, kd: 0.4 }
    const law = { kind: 'pdOnRate' }
    const filtered = replaceAt<Document>(document, 'loops.height', { ...document.loops.height!, law, tuning: typed })
    const found = alone(filtered, 'height')
    const w = found.crossover!
    const plain = alone(replaceAt(filtered, 'loops.height.reads', 'true'), 'height')
    const bare = loopGain(plain.model, plain.gains)(w)!
    // estimates of a true swing: height 1, climb rate j w, acceleration -w²
    const [filter] = linearEstimators(document, 'lamplighter')
    const r = responseAt(filter!.system, onUnitCircle(w, filter!.system.dt!))!
    const [h, v] = r.map(([a, b]) => complex(a!.re - w * w * b!.re, a!.im - w * w * b!.im)) as [Complex, Complex]
    const { kp, kd } = found.gains
    const read = complex(kp * h.re + kd * v.re, kp * h.im + kd * v.im)
    const turned = Math.atan2(read.im, read.re) - Math.atan2(kd * w, kp)
    const here = loopGain(found.model, found.gains)(w)!
    expect(Math.atan2(here.im, here.re) - Math.atan2(bare.im, bare.re)).toBeNear(turned, { absolute: 1e-5 })
    expect(Math.abs(turned)).toBeGreaterThan(1e-4)
  })

  it('loses margin to an observer that does not know what becomes of its push (Doyle, IEEE TAC 23, 1978, from memory)', () => {
    const found = alone(demo('derrick'), 'slew')
    const truly = alone(replaceAt(demo('derrick'), 'loops.slew.reads', 'true'), 'slew')
    expect(found.stable).toBe(true)
    expect(found.phaseMargin).toBeLessThan(0.9 * truly.phaseMargin!)
    expect(found.phaseMargin).toBeGreaterThan(0.3)
    // the whole says the same, opened where the push reaches the machine
    const document = demo('derrick')
    const only = { ...document, loops: { slew: document.loops.slew! } }
    const { channels } = expectDone(togetherFigures(only, 'derrick', 'pushes'))
    expect(found.phaseMargin).toBeNear(channels[0]!.phaseMargin!, { relative: 1e-6 })
  })

  it('has what the whole says of it, opened where its push reaches the machine', () => {
    const document = lampCascade()
    const loops = Object.fromEntries(['height', 'climbRate'].map((name) => [name, document.loops[name]!]))
    const { channels } = expectDone(togetherFigures({ ...document, loops }, 'lamplighter', 'commands'))
    const { crossover, phaseMargin } = channels.find(({ name }) => name === 'height')!
    const found = alone(document, 'height')
    expect([found.crossover, found.phaseMargin]).toBeNear([crossover!, phaseMargin!], { relative: 1e-4 })
  })
})
