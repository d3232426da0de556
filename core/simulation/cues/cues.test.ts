import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { Graph, derivatives, evaluation } from '../../expression'
import type { Scalar } from '../../expression'
import { shaped } from '../../control'
import { replaceAt } from '../../document'
import type { Document } from '../../document'
import { checkDocument } from '../../check'
import { lamplighter, writtenLamplighter } from '../../tests/demo'
import { expectDone } from '../../tests/expectDone'
import { compile, cues, findColumn, lastCueEnd, referenceOf, start, trialFigures } from '../index'
import type { Cue, Record as RunRecord } from '../index'

const sizes: Readonly<{ [slot: string]: number }> = {
  ...{ at: 1.5, by: -2, over: 0.8, timeConstant: 0.2, speed: 4, acceleration: 20, jerk: 300 },
  ...{ frequency: 25, from: 5, to: 40, 'points.0.0': 0, 'points.0.1': 0, 'points.1.0': 0.8, 'points.1.1': -2 },
}
const read = (slot: string) => sizes[slot]!
const part = { kind: '', points: [[], []] }
const at = (cue: Cue, t: number) => cue.value!(t, read, part) as number
const endOf = (cue: Cue, given = read) => cue.ends(given, part) as number
const commands = cues.filter(({ lane }) => lane === 'commands')
const swings = ['sineCue', 'sweepCue']
/** What asks for nothing: it switches the feedback. */
const isMove = ({ name, switchesTo }: Cue) => !swings.includes(name) && switchesTo === undefined
const named = (name: string) => cues.find((cue) => cue.name === name)!

describe.each(commands)('the command $name', (cue) => {
  it('does nothing before its time', () => {
    expect(at(cue, 0)).toBeNear(0, { absolute: 0 })
    expect(at(cue, 1.499)).toBeNear(0, { absolute: 0 })
    expect(endOf(cue)).toBeGreaterThanOrEqual(1.5)
  })
})

describe.each(commands.filter(isMove))('the move $name', (cue) => {
  it('has done all of it after its end', () => {
    const left = cue.name === 'approachCue' ? 2 * Math.exp(-4) : 0
    expect(at(cue, endOf(cue) + 1e-9)).toBeNear(-2 + left, { absolute: 1e-7 })
    expect(at(cue, 100)).toBe(-2)
  })

  it('never goes back or beyond', () => {
    const time = fc.double({ min: 0, max: 5, noNaN: true })
    fc.assert(
      fc.property(time, time, (a, b) => {
        const [earlier, later] = [Math.min(a, b), Math.max(a, b)].map((t) => at(cue, t))
        expect(later).toBeLessThanOrEqual(earlier! + 1e-12)
        expect(later).toBeGreaterThanOrEqual(-2)
      }),
    )
  })
})

describe.each(swings)('the swing %s', (name) => {
  it('swings as far as asked and is over at its end', () => {
    const cue = named(name)
    const values = Array.from({ length: 800 }, (_, i) => at(cue, 1.5 + i / 1000))
    expect(Math.max(...values)).toBeNear(2, { relative: 0.01 })
    expect(at(cue, endOf(cue))).toBe(0)
  })
})

/** The motion of a cue and its first three derivatives at a time, exactly, from its graph. */
function motionOf(cue: Cue, changed: Readonly<Record<string, number>> = {}): (t: number) => readonly number[] {
  const slot = new Graph().slot(0)
  const forms: Scalar[] = [cue.value!(slot, (path) => changed[path] ?? read(path), part)]
  for (let k = 0; k < 3; k++) forms.push(derivatives([forms.at(-1)!], 0)[0]!)
  return (t) => {
    const values = evaluation([t])
    return forms.map((form) => values.number(form) as number)
  }
}

/** The largest of a derivative's values over a while from 1.5 s. */
const most = (motion: (t: number) => readonly number[], order: number, over = 2) =>
  Math.max(...Array.from({ length: 1001 }, (_, i) => Math.abs(motion(1.5 + (over * i) / 1000)[order]!)))

describe('profiles as handbooks have them', () => {
  // Lynch & Park, Modern Robotics, 2017, section 9.2.2.2: T = D/v + v/a, or 2 √(D/a) without a cruise
  it.each([
    ['with a cruise', 4, 20, 2 / 4 + 4 / 20],
    ['without', 40, 20, 2 * Math.sqrt(2 / 20)],
  ])('a trapezoid %s takes the time of its formula', (_what, speed, acceleration, lasts) => {
    const changed: Record<string, number> = { speed, acceleration }
    const cue = named('trapezoidCue')
    expect(cue.ends((path) => changed[path] ?? read(path), part)).toBeNear(1.5 + lasts, { relative: 1e-12 })
    const motion = motionOf(cue, changed)
    expect(most(motion, 1)).toBeNear(Math.min(speed, Math.sqrt(2 * acceleration)), { relative: 5e-3 })
    expect(most(motion, 2)).toBeNear(acceleration, { relative: 1e-9 })
  })

  // segments by hand: v = 4, a = 20, j = 300: bends 1/15 s, steady 2/15 s, then 2/4 s less those
  it.each([
    ['all seven segments', { speed: 4, acceleration: 20, jerk: 300 }, 2 / 4 + 4 / 20 + 20 / 300],
    ['no cruise', { speed: 40, acceleration: 20, jerk: 300 }, undefined],
    ['neither cruise nor steady acceleration', { speed: 40, acceleration: 200, jerk: 300 }, 4 * Math.cbrt(2 / 2 / 300)],
    ['no steady acceleration', { speed: 1, acceleration: 100, jerk: 300 }, 2 / 1 + 2 * Math.sqrt(1 / 300)],
  ] as const)('an S-curve with %s keeps all its limits and arrives', (_what, changed, lasts) => {
    const cue = named('sCurveCue')
    const numbers: Readonly<Record<string, number>> = changed
    const end = endOf(cue, (path) => numbers[path] ?? read(path)) - 1.5
    if (lasts !== undefined) expect(end).toBeNear(lasts, { relative: 1e-9 })
    const motion = motionOf(cue, changed)
    expect(most(motion, 1, end)).toBeLessThanOrEqual(changed.speed * (1 + 1e-9))
    expect(most(motion, 2, end)).toBeLessThanOrEqual(changed.acceleration * (1 + 1e-9))
    expect(most(motion, 3, end)).toBeNear(changed.jerk, { relative: 1e-9 })
    const [place, speed] = motion(1.5 + end - 1e-7)
    expect(place).toBeNear(-2, { absolute: 1e-9 })
    expect(speed).toBeNear(0, { absolute: 1e-6 })
  })

  // Flash & Hogan, Journal of Neuroscience 5 (1985): the peak speed is 1.875 times the mean
  it('the glide of minimum jerk is fastest in its middle, 15/8 of its mean speed', () => {
    const motion = motionOf(named('minimumJerkCue'))
    expect(Math.abs(motion(1.9)[1]!)).toBeNear((1.875 * 2) / 0.8, { relative: 1e-12 })
    expect(most(motion, 1, 0.8)).toBeNear((1.875 * 2) / 0.8, { relative: 1e-6 })
  })

  it('a smooth table passes its points, at the mean slope of their neighbours', () => {
    const table = { kind: '', between: 'smooth', points: [[], [], [], []] }
    const rows = [
      [0, 0],
      [1, 2],
      [2, 3],
      [4, 1],
    ]
    const numbers = new Map<string, number>(rows.flatMap((row, i) => row.map((value, j) => [`points.${i}.${j}`, value] as const)))
    const slot = new Graph().slot(0)
    const value = named('tableCue').value!(slot, (path) => numbers.get(path) ?? 0, table)
    const slope = derivatives([value], 0)[0]!
    const at = (t: number) => [value, slope].map((one) => evaluation([t]).number(one) as number)
    expect(rows.map(([t]) => at(t!)[0]!)).toBeNear([0, 2, 3, 1], { absolute: 1e-12 })
    expect([at(0)[1]!, at(1)[1]!, at(2)[1]!]).toBeNear([0, 1.5, -1 / 3], { absolute: 1e-12 })
    // the slope does not jump
    expect(at(1 - 1e-9)[1]!).toBeNear(1.5, { absolute: 1e-6 })
    expect(at(9)).toEqual([1, 0])
  })

  it('a sweep runs through its frequencies at as many octaves a second', () => {
    // zero crossings of sin(phase) halve their distance where the frequency doubles; the phase is known in closed form
    const phase = (t: number) => ((5 * 0.8) / Math.log(8)) * (8 ** (t / 0.8) - 1)
    for (const t of [0.1, 0.35, 0.7]) expect(at(named('sweepCue'), 1.5 + t)).toBeNear(-2 * Math.sin(phase(t)), { absolute: 1e-9 })
  })
})

describe('input shaping', () => {
  const [frequency, damping] = [3, 0.1]
  const numbers: Readonly<Record<string, number>> = { frequency, damping }
  const shaper = (parts: string) => [{ part: { kind: 'inputShaper', parts }, read: (slot: string) => numbers[slot]! }]
  /** What a damped oscillator of another frequency still swings after a shaped step, as a share of an unshaped one. */
  const left = (parts: string, real: number): number => {
    const reference = shaped(shaper(parts), (t) => ((t as number) >= 0 ? 1 : 0))
    const dt = 0.001
    let [x, v, peak] = [0, 0, 0]
    for (let k = 0; k < 6000; k++) {
      v += dt * (real * real * ((reference(k * dt) as number) - x) - 2 * damping * real * v)
      x += dt * v
      if (k * dt > 2.3) peak = Math.max(peak, Math.abs(x - 1))
    }
    return peak
  }

  // Singer & Seering (1990): no residual swing at the exact frequency; three parts forgive an error that two do not
  it('leaves no swing at its frequency, and little beside it with three parts', () => {
    expect(left('two', frequency)).toBeLessThan(0.003)
    expect(left('three', frequency)).toBeLessThan(0.003)
    expect(left('two', 1.1 * frequency)).toBeGreaterThan(0.03)
    expect(left('three', 1.1 * frequency)).toBeLessThan(0.4 * left('two', 1.1 * frequency))
  })

  it('shares add up to the whole command', () => {
    for (const parts of ['two', 'three']) expect(shaped(shaper(parts), () => 1)(100)).toBeNear(1, { relative: 1e-12 })
  })
})

const withCues = (parts: object): Document => replaceAt<Document>(lamplighter(), 'trials.galleryRise.cues', parts)
const fly = (document: Document): RunRecord =>
  start(expectDone(compile(document, 'galleryRise'))).run({ trial: 'galleryRise', layers: [], seed: 1 })
const column = (record: RunRecord, name: string) => findColumn(record, name)!

describe('several cues', () => {
  const document = withCues({
    up: { kind: 'stepCue', loop: 'height', at: 1, by: 2 },
    down: { kind: 'rampCue', loop: 'height', at: 4, by: -1.5, over: 2 },
  })

  it('add up', () => {
    const reference = referenceOf(document, 'galleryRise', 'height')
    expect([0, 1, 3, 5, 6, 9].map(reference)).toBeNear([0, 2, 2, 1.25, 0.5, 0.5], { absolute: 1e-12 })
    expect(referenceOf(document, 'galleryRise', 'roll')(5)).toBeNear(0, { absolute: 1e-12 })
  })

  it('make the trial last until the last of them is over, and longer', () => {
    expect(lastCueEnd(document.trials.galleryRise as never)).toBe(6)
    expect(fly(document).time.at(-1)).toBeNear(16, { absolute: 1e-9 })
  })

  it('are followed in flight, as the record of the reference says', () => {
    const record = fly(document)
    const reference = column(record, 'loops.height.reference')
    const at = (t: number) => record.time.findIndex((one) => one >= t - 1e-9)
    expect(reference[at(5)]).toBeNear(1.25, { absolute: 0.01 })
    expect(column(record, 'lamplighter.readings.place.height').at(-1)).toBeNear(0.5, { absolute: 0.03 })
  })

  it('have figures over the last one', () => {
    const { simulated } = trialFigures(document, 'galleryRise', fly(document)).height!
    expect(simulated!.steadyError).toBeNear(0, { absolute: 0.03 })
  })
})

describe('a trial without cues', () => {
  it('hovers', () => {
    const record = fly(withCues({}))
    expect(Math.max(...column(record, 'lamplighter.readings.place.height').map(Math.abs))).toBeLessThan(0.1)
    expect(record.time.at(-1)).toBeNear(10, { absolute: 1e-9 })
  })
})

describe('laws in flight with a load that the model does not know', () => {
  const changed = replaceAt<Document>(writtenLamplighter(), 'trials.galleryRise.overrides', {
    heavier: { kind: 'override', parameter: 'parameters.load', how: 'set', amount: 0.15 },
  })
  const { resolved: loaded } = expectDone(checkDocument(changed))
  const long = replaceAt<Document>(loaded, 'trials.galleryRise.after', 25)
  const gains = { kp: 22, ki: 14, kd: 16 }
  const errorWith = (law: string, used: Partial<typeof gains>) => {
    const tuned = replaceAt<Document>(long, 'loops.height.tuning', { kind: 'typedGains', kp: 0, ki: 0, kd: 0, ...used })
    const record = fly(replaceAt<Document>(tuned, 'loops.height.law.kind', law))
    expect(record.ending.kind).toBe('finished')
    return trialFigures(long, 'galleryRise', record).height!.simulated!.steadyError
  }

  it('without an integral keep the error that the missing push leaves: 15 % of the weight over kp', () => {
    const missing = 0.15 * 3.4 * 9.80665
    expect(errorWith('pdOnRate', { kp: gains.kp, kd: gains.kd })).toBeNear(-missing / gains.kp, { relative: 0.03 })
  })

  it('with an integral lose it', () => {
    expect(errorWith('pidOnRate', gains)).toBeNear(0, { absolute: 0.02 })
  })
})
