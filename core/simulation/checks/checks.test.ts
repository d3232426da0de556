import { describe, expect, it } from 'vitest'
import { checkDocument } from '../../check'
import { replaceAt } from '../../document'
import type { Document, Part } from '../../document'
import { packRecord, unpackRecord } from '../../formats'
import { blankPart } from '../../kinds'
import { earlierText, lamplighter, readingOf, writtenLamplighter } from '../../tests/demo'
import { expectDone } from '../../tests/expectDone'
import { reference } from '../../tests/reference'
import { checks, compile, findColumn, judgedRun, runHash, start, verdictsOf } from '../index'
import type { Judgement } from '../index'
import type { Looked } from './check'

const heightSignal = `lamplighter.${readingOf.height}`
type Signals = Readonly<Record<string, (t: number) => number>>

/** A run of signals that are known in closed form. */
function runOf(
  signals: Signals,
  { until = 10, step = 0.01, units = {} as Readonly<Record<string, string>>, at = 0 } = {},
): Looked {
  const time = Float64Array.from({ length: Math.round(until / step) + 1 }, (_, k) => k * step)
  return {
    time,
    values: (name) => (signals[name] === undefined ? undefined : time.map(signals[name])),
    least: () => undefined,
    unitOf: (name) => units[name] ?? '',
    lastCue: () => ({ at, before: 0, after: 1 }),
  }
}

function judged(kind: string, slots: object, run: Looked): Judgement {
  return checks.find(({ name }) => name === kind)!.judge({ kind, ...slots } as Part, run)
}

describe('checks against responses in closed form', () => {
  // ISO-like definitions of step figures on the standard second-order system; figures computed outside this project
  const { inputs, expected } = reference<{ zeta: number; wn_rad_s: number }, { [figure: string]: number }>('lti-step-2nd-z0p5')
  const [zeta, wn] = [inputs.zeta, inputs.wn_rad_s]
  const damped = wn * Math.sqrt(1 - zeta * zeta)
  const answer = (t: number) =>
    1 - Math.exp(-zeta * wn * t) * (Math.cos(damped * t) + ((zeta * wn) / damped) * Math.sin(damped * t))
  const step = runOf(
    { 'loops.height.error': (t) => 1 - answer(t), 'loops.height.reference': () => 1, x: answer },
    { step: 0.002 },
  )

  it('a step settles when the textbook says, and the margin is the time that is left', () => {
    const found = judged('settles', { within: 5, loop: 'height', band: 0.02 }, step)
    expect(found).toMatchObject({ outcome: 'holds', unit: 's' })
    expect(found.margin).toBeNear(5 - expected.settling_2pct!, { absolute: 1e-5 })
    expect(found.at).toBeNear(expected.settling_2pct!, { absolute: 1e-5 })
    const late = judged('settles', { within: 2.6, loop: 'height', band: 0.05 }, step)
    expect(late).toMatchObject({ outcome: 'fails', failedAt: 2.6 })
    expect(late.margin).toBeNear(2.6 - expected.settling_5pct!, { absolute: 1e-5 })
  })
  it('it overshoots as far and peaks when the textbook says', () => {
    const found = judged('overshoots', { loop: 'height', most: 0.2 }, step)
    expect(found.margin).toBeNear(0.2 - expected.overshoot_frac!, { absolute: 1e-6 })
    expect(found.at).toBeNear(expected.peak_time!, { absolute: 0.002 })
    expect(judged('overshoots', { loop: 'height', most: 0.16 }, step).outcome).toBe('fails')
  })
  it('it stays near its reference from its settling on, not sooner', () => {
    expect(judged('staysNear', { from: 4.1, loop: 'height', band: 0.02 }, step).outcome).toBe('holds')
    const sooner = judged('staysNear', { from: 1, loop: 'height', band: 0.02 }, step)
    expect(sooner).toMatchObject({ outcome: 'fails', failedAt: 1 })
  })

  it('a limit is passed at the instant between two rows', () => {
    const ramp = runOf({ x: (t) => 2 * t }, { step: 0.25 })
    const found = judged('staysBeyond', { signal: 'x', side: 'below', limit: 3.3 }, ramp)
    expect(found).toMatchObject({ outcome: 'fails', margin: 3.3 - 20, at: 10 })
    expect(found.failedAt).toBeNear(1.65, { absolute: 1e-12 })
    expect(judged('staysBeyond', { from: 2, signal: 'x', side: 'above', limit: 3.3 }, ramp)).toMatchObject({
      outcome: 'holds',
      at: 2,
    })
    expect(judged('staysBeyond', { signal: 'x', side: 'within', limit: 21 }, ramp).margin).toBeNear(1, { absolute: 1e-12 })
  })
  it('a lean adds up over both axes: 30° and 40° are acos(cos 30° cos 40°)', () => {
    const run = runOf({ roll: () => Math.PI / 6, pitch: () => (2 * Math.PI) / 9 })
    const most = Math.acos(Math.cos(Math.PI / 6) * Math.cos((2 * Math.PI) / 9))
    expect(judged('staysUpright', { roll: 'roll', pitch: 'pitch', most: most + 0.1 }, run).margin).toBeNear(0.1, {
      absolute: 1e-12,
    })
  })
  it('a sine of amplitude a has a root mean square of a/√2, and 4 a/w of area a turn', () => {
    const run = runOf({ x: (t) => 3 * Math.sin(2 * t) }, { until: 2 * Math.PI, step: Math.PI / 2000, units: { x: 'N' } })
    const of = (what: string) => judged('usesLess', { what, signal: 'x', most: 100 }, run)
    expect(100 - of('peak').margin!).toBeNear(3, { absolute: 1e-5 })
    expect(100 - of('rms').margin!).toBeNear(3 / Math.SQRT2, { absolute: 1e-6 })
    expect(100 - of('sum').margin!).toBeNear((2 * 4 * 3) / 2, { relative: 1e-5 })
    expect(of('sum').unit).toBe('N·s')
  })
  it('an exponential comes to rest after T ln(v/least)', () => {
    const run = runOf({ v: (t) => 2 * Math.exp(-t / 0.8) })
    const found = judged('comesToRest', { within: 4, from: 1, signal: 'v', least: 0.05 }, run)
    expect(found.margin).toBeNear(5 - 0.8 * Math.log(40), { absolute: 1e-4 })
  })
  it('what comes nearest between rows counts by its rows', () => {
    const run = runOf({ x: (t) => t }, { step: 0.5 })
    expect(judged('reaches', { by: 8, signal: 'x', near: 0.1, value: 4 }, run)).toMatchObject({
      outcome: 'holds',
      margin: 0.1,
      at: 4,
    })
    expect(judged('reaches', { by: 3, signal: 'x', near: 0.1, value: 4 }, run)).toMatchObject({ outcome: 'fails', at: 3 })
    expect(judged('reaches', { by: 12, signal: 'x', near: 0.1, value: 14 }, run).outcome).toBe('open')
  })
})

describe('conditions over a run', () => {
  // times to detect of a threshold on a first-order filtered step, and with so many samples in a row
  const { inputs, expected } = reference<
    {
      continuous_tau_amplitude_threshold: [number, number, number][]
      sampled_tau_Ts_amplitude_threshold_persistence: [number, number, number, number, number][]
    },
    { continuous: { step_detect_time: number | null }[]; sampled: { alarm_time: number | null }[] }
  >('det-threshold')
  const noticed = (condition: string, run: Looked) => judged('happensBefore', { first: condition, second: 't > 1e9' }, run)

  it.each(inputs.continuous_tau_amplitude_threshold.map((row, i) => [...row, expected.continuous[i]!.step_detect_time] as const))(
    'a threshold on a filtered step (tau %d, %d, %d) is passed at %d s',
    (tau, amplitude, threshold, time) => {
      const run = runOf({ y: (t) => amplitude * (1 - Math.exp(-t / tau)), t: (t) => t }, { step: 0.002 })
      const found = noticed(`y > ${threshold}`, run)
      if (time === null) expect(found.outcome).toBe('open')
      else expect(found.at).toBeNear(time, { absolute: 1e-5 })
    },
  )
  it.each(
    inputs.sampled_tau_Ts_amplitude_threshold_persistence.map((row, i) => [...row, expected.sampled[i]!.alarm_time] as const),
  )('with samples every %#$2 in a row it is noticed as reckoned', (tau, every, amplitude, threshold, persistence, time) => {
    const run = runOf({ y: (t) => amplitude * (1 - Math.exp(-t / tau)), t: (t) => t }, { step: every })
    const found = noticed(`y >= ${threshold} for ${(persistence - 1) * every} s`, run)
    if (time === null) return expect(found.outcome).toBe('open')
    // judged at rows there, between them here
    expect(Math.ceil(found.at! / every - 1e-9) * every).toBeNear(time, { absolute: 1e-9 })
  })

  it('on noise come as often as reckoned: at once, and with several samples in a row', () => {
    const { inputs: given, expected: reckoned } = reference<
      { threshold_sigma_mean_n_m_N: number[][] },
      { problems: { alarm_probability_within_N: number; sample_exceedance: number }[] }
    >('det-persistence')
    // a sample holds until the next one comes; ten rows each, as between rows a run is straight
    const share = (threshold: number, seconds: number, samples: number, runs: number) => {
      const noise = gaussian(4711)
      let alarms = 0
      for (let run = 0; run < runs; run++) {
        const x = Float64Array.from({ length: samples }, noise)
        const held = runOf({ x: (t) => x[Math.floor(t + 1e-6)]!, t: (t) => t }, { step: 0.1, until: samples - 0.1 })
        if (noticed(`x > ${threshold} for ${seconds} s`, held).outcome !== 'open') alarms++
      }
      return alarms / runs
    }
    const [threshold, , , , , samples] = given.threshold_sigma_mean_n_m_N[0]!
    const { alarm_probability_within_N: wanted } = reckoned.problems[0]!
    // three deviations of a share of so many runs
    expect(share(threshold!, 0, samples!, 150)).toBeNear(wanted, { absolute: 3 * Math.sqrt((wanted * (1 - wanted)) / 150) })
    const inRow = inRowWithin(reckoned.problems[2]!.sample_exceedance, 2, 200)
    expect(share(1.5, 1.5, 200, 400)).toBeNear(inRow, { absolute: 3 * Math.sqrt((inRow * (1 - inRow)) / 400) })
  })

  /** Normal numbers by Box and Muller from a counter that is stirred. */
  function gaussian(seed: number): () => number {
    let state = seed
    const even = () => {
      state = (state + 0x6d2b79f5) | 0
      let mixed = Math.imul(state ^ (state >>> 15), 1 | state)
      mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed
      return (((mixed ^ (mixed >>> 14)) >>> 0) + 0.5) / 4294967296
    }
    return () => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even())
  }
  /** The recursion for a run of so many: what has not come yet, by how many were just in a row. */
  function inRowWithin(p: number, inRow: number, samples: number): number {
    let state: number[] = Array.from({ length: inRow }, (_, i) => (i === 0 ? 1 : 0))
    for (let k = 0; k < samples; k++) state = state.map((_, i) => (i === 0 ? (1 - p) * sum(state) : p * state[i - 1]!))
    return 1 - sum(state)
  }
  function sum(of: readonly number[]): number {
    return of.reduce((total, one) => total + one, 0)
  }

  const waves = runOf({ a: (t) => Math.sin(t), b: () => 0.25, m: (t) => t }, { units: { a: 'm', b: 'm', m: 's' } })
  it('have the room of their comparisons: least of and, most of or, opposite of not', () => {
    const margin = (condition: string, when: string) => judged('conditionHolds', { condition, when }, waves).margin
    expect(margin('a < 2', 'always')).toBeNear(1, { absolute: 1e-5 })
    expect(margin('a < 2 and b < 1', 'always')).toBeNear(0.75, { absolute: 1e-9 })
    expect(margin('a > 2 or b > 0', 'always')).toBeNear(0.25, { absolute: 1e-9 })
    expect(margin('not (a > 2)', 'always')).toBeNear(1, { absolute: 1e-5 })
    expect(margin('a > 1.2', 'once')).toBeNear(-0.2, { absolute: 1e-5 })
    expect(margin('a > 1.2', 'never')).toBeNear(0.2, { absolute: 1e-5 })
    expect(judged('conditionHolds', { condition: 'a > b', when: 'once' }, waves).unit).toBe('m')
    expect(judged('conditionHolds', { condition: 'a > b or m > 3', when: 'once' }, waves).unit).toBe('')
  })
  it('that go on until another have hysteresis', () => {
    // on at asin(0.9), off where the sine falls through 0.1: on for one stretch of each turn
    const on = (from: number) => judged('conditionHolds', { from, condition: 'a > 0.9 until a < 0.1', when: 'always' }, waves)
    expect(on(Math.asin(0.9) + 0.02).failedAt).toBeNear(Math.PI - Math.asin(0.1), { absolute: 1e-4 })
    expect(on(1).outcome).toBe('fails')
    expect(on(1).failedAt).toBe(1)
  })
  it('that must last begin after that time', () => {
    const found = noticed('a > 0.5 for 1 s', runOf({ a: (t) => Math.sin(t), t: (t) => t }, { step: 0.001 }))
    expect(found.at).toBeNear(Math.PI / 6 + 1, { absolute: 2e-3 })
    expect(noticed('a > 0.5 for 3 s', runOf({ a: (t) => Math.sin(t), t: (t) => t })).outcome).toBe('open')
  })
  it('one thing before another has the time between them', () => {
    const found = judged('happensBefore', { first: 'a > 0.5', second: 'a > 0.9' }, waves)
    expect(found.margin).toBeNear(Math.asin(0.9) - Math.PI / 6, { absolute: 1e-3 })
    expect(judged('happensBefore', { first: 'a > 0.9', second: 'a > 0.5' }, waves).outcome).toBe('fails')
  })
})

describe('a check without an answer says why', () => {
  const run = runOf({ x: (t) => t }, { until: 2 })
  it.each([
    ['staysBeyond', { signal: 'gone', limit: 1 }, /no signal named gone/],
    ['staysBeyond', { from: 3, signal: 'x', limit: 1 }, /ends at 2.00 s, before this check begins at 3 s/],
    ['settles', { within: 4, loop: 'height', band: 1 }, /no signal named loops.height.error/],
    ['comesToRest', { within: 4, signal: 'x', least: 1 }, /before the 4 s are over/],
    ['conditionHolds', { condition: 'gone > 1' }, /no signal named gone/],
    ['happensBefore', { first: 'x > 9', second: 'x > 10' }, /Neither of the two/],
  ])('%s', (kind, slots, why) => {
    const found = judged(kind, slots, run)
    expect(found.outcome).toBe('open')
    expect(found.why).toMatch(why)
  })
  it('and what is no number fails', () => {
    const broken = runOf({ x: (t) => (t > 1 ? NaN : 0) }, { until: 2 })
    expect(judged('staysBeyond', { signal: 'x', limit: 1 }, broken)).toMatchObject({ outcome: 'fails' })
  })
})

describe('checks of a trial', () => {
  const withChecks = (list: Readonly<Record<string, object>>): Document =>
    replaceAt<Document>(lamplighter(), 'trials.galleryRise.checks', list)
  const flown = (document: Document) => {
    const program = expectDone(compile(document, 'galleryRise'))
    return judgedRun(document, program, start(program), { trial: 'galleryRise', layers: [], seed: 1 })
  }
  const near = { kind: 'staysNear', from: 6, loop: 'height', band: 0.15 }
  const low = { kind: 'staysBeyond', signal: heightSignal, side: 'below', limit: 1.5 }

  it('are judged by what truly was, and cost the run nothing', () => {
    const [plain, checked] = [flown(lamplighter()), flown(withChecks({ near, low }))]
    expect(checked.hash).toBe(plain.hash)
    expect(findColumn(checked, heightSignal)).toEqual(findColumn(plain, heightSignal))
    const verdicts = verdictsOf(withChecks({ near, low }), 'galleryRise', checked)
    expect(verdicts.map(({ check, outcome }) => [check, outcome])).toEqual([
      ['near', 'holds'],
      ['low', 'fails'],
    ])
    const height = findColumn(checked, heightSignal)!
    expect(verdicts[1]!.margin).toBeNear(1.5 - Math.max(...height), { absolute: 1e-12 })
    expect(verdicts[1]!.unit).toBe('m')
  })
  it('may say a quantity without the name of its machine', () => {
    const at = (condition: string) => withChecks({ one: { kind: 'conditionHolds', condition } })
    const record = flown(lamplighter())
    const of = (condition: string) => verdictsOf(at(condition), 'galleryRise', record)[0]!
    expect(of(`${readingOf.height} < 2.9`)).toEqual(of(`${heightSignal} < 2.9`))
    expect(of(`${readingOf.height} < 2.9`)).toMatchObject({ outcome: 'holds', unit: 'm' })
  })
  it('that end the run end it at their failure; all before it is as it was, and nothing that had to last is decided', () => {
    const document = withChecks({ near, low: { ...low, ends: 'ends' } })
    const [plain, ended] = [flown(lamplighter()), flown(document)]
    expect(ended.hash).not.toBe(plain.hash)
    expect(ended.hash).toBe(runHash(document, 'galleryRise'))
    expect(ended.ending).toMatchObject({ kind: 'ended', check: 'low' })
    const [height, whole] = [findColumn(ended, heightSignal)!, findColumn(plain, heightSignal)!]
    expect([height.at(-1)! > 1.5, height.at(-2)! > 1.5]).toEqual([true, false])
    expect(height).toEqual(whole.slice(0, height.length))
    expect(ended.time.length).toBe(height.length)
    const verdicts = verdictsOf(document, 'galleryRise', ended)
    expect(verdicts.map(({ outcome }) => outcome)).toEqual(['open', 'fails'])
    expect(verdicts[0]!.why).toMatch(/^A check ended the run at \d\.\d\d s, too early/)
    const { rows, ...kept } = ended
    expect(expectDone(unpackRecord(packRecord(ended)))).toEqual(kept)
    expect(rows!.length).toBe(ended.time.length * ended.columns.length)
  })

  it('that fail only at the end end nothing', () => {
    const high = { kind: 'conditionHolds', condition: `${heightSignal} > 9`, when: 'once', ends: 'ends' }
    const document = withChecks({ near, high })
    const record = flown(document)
    expect(record.ending).toEqual({ kind: 'finished' })
    expect(verdictsOf(document, 'galleryRise', record).map(({ outcome }) => outcome)).toEqual(['holds', 'fails'])
  })

  const problemsOf = (list: Readonly<Record<string, object>>) => {
    const outcome = checkDocument(replaceAt<Document>(writtenLamplighter(), 'trials.galleryRise.checks', list))
    return outcome.kind === 'refused' ? outcome.problems : []
  }
  it.each([
    [{ ...near, loop: 'hight' }, 'loop', /no loop named hight/, /height/],
    [{ ...low, signal: 'lamplihgter.height' }, 'signal', /no machine, loop or estimator/, /lamplighter/],
    [{ ...low, signal: 'loops.hight.error' }, 'signal', /no loop named hight/, /height/],
    [{ kind: 'conditionHolds', condition: 'lamplighter.height >' }, 'condition', /./, /./],
    [{ kind: 'conditionHolds', condition: '1 > 2' }, 'condition', /can never hold/, /signal of the run/],
    [{ kind: 'conditionHolds', condition: 'derrick.load > 2' }, 'condition', /no machine, loop or estimator/, /./],
    [{ ...low, side: 'within', limit: -1 }, 'limit', /less than nothing/, /above 0/],
    [{ ...near, band: -1 }, 'band', /./, /./],
  ])('are refused at their place: %o', (check, slot, what, remedy) => {
    const [problem, ...more] = problemsOf({ one: check })
    expect(more).toEqual([])
    expect(problem!.where).toBe(`trials.galleryRise.checks.one.${slot}`)
    expect(problem!.what).toMatch(what)
    expect(problem!.remedy).toMatch(remedy)
  })
  it('of every kind can be added blank, and a document of before has none', () => {
    for (const kind of checks) expect(blankPart(kind).kind).toBe(kind.name)
    const old = JSON.parse(earlierText('lamplighter-4')) as Document
    expect(expectDone(checkDocument(old)).resolved.trials.galleryRise!.checks).toBeUndefined()
  })
})
