// What happens to a machine in a trial, against closed forms and against the same altered by hand.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { asCued } from '../control'
import type { Document } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import type { Values } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { asItCame, compile, findColumn, start, trialFigures } from './index'
import type { Record } from './index'

/** A sled of 2 kg on a rail along x, with a drive, and a wheel of 0.5 kg·m² about z; no gravity. */
const sled = (more: Values = {}) =>
  mechanismPart(
    {
      sled: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0], start: 0 })),
      wheel: bodyPart(1, [0, 0, 0], [0.5, 0.5, 0.5], jointPart('turning', 'ground', [0, 1, 0], { axis: [0, 0, 1] })),
    },
    { gravity: 0, drives: { motor: { kind: 'effortDrive', joint: 'sled.travel', most: 1000 } }, ...more },
  )

const hold = { holds: 'sled.travel', pushes: 'drives.motor', law: { kind: 'pdOnRate' }, tuning: { kind: 'typedGains', kp: 8, ki: 0, kd: 8 } } // prettier-ignore
const free = { ...hold, tuning: { kind: 'typedGains', kp: 0, ki: 0, kd: 0 } }

function trialOf(cues: object, more: Values = {}, loop: Values = free, machine = sled()): Document {
  return oneMachine(machine, { hold: loop }, { cues, after: 2, step: 0.005, ...more })
}
function flown(document: Document): Record & { readonly column: (name: string) => Float64Array } {
  const { resolved } = expectDone(checkDocument(document))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 5 })
  return { ...record, column: (name) => findColumn(record, name)! }
}
const problems = (document: Document) => {
  const found = checkDocument(document)
  return found.kind === 'refused' ? found.problems.map(({ where, what }) => `${where}: ${what}`) : []
}
const push = { kind: 'pushCue', body: 'sled', at: 0.1234, over: 0.3017, x: 6, y: 0, z: 0 }

describe('what acts on the machine', () => {
  // x = F t²/2m while it lasts, then at the speed it has: by hand
  it.each(['fixed', 'adaptive', 'implicit'])('a push between ticks acts exactly as long as it says: %s steps', (method) => {
    const { time, column } = flown(trialOf({ push }, { method }))
    const tolerance = method === 'fixed' ? 1e-12 : 1e-7
    const expected = [...time].map((t) => {
      const on = Math.min(Math.max(t - 0.1234, 0), 0.3017)
      return (6 / 2) * (0.5 * on * on + on * Math.max(t - 0.1234 - 0.3017, 0))
    })
    expect([...column('m.sled.travel')]).toBeNear(expected, { absolute: tolerance })
  })

  it('two that wait each come at their own time', () => {
    const waits = (condition: string) => ({ waits: { kind: 'whenHolds', condition }, at: 0 })
    const first = { ...push, ...waits('m.sled.travel > -1') }
    const never = { ...push, ...waits('m.sled.travel > 100') }
    expect(flown(trialOf({ first, never })).column('m.sled.rate').at(-1)!).toBeNear((6 * 0.3017) / 2, { absolute: 1e-9 })
  })

  it('an impulse leaves its momentum, an impulse off the middle its turn as well', () => {
    const blow = { kind: 'impulseCue', body: 'sled', at: 0.5, x: 3, y: 0, z: 0, over: 0.02 }
    expect(
      flown(trialOf({ blow }, { method: 'chosen' }))
        .column('m.sled.rate')
        .at(-1)!,
    ).toBeNear(3 / 2, { absolute: 1e-6 })
    const off = { ...blow, body: 'wheel', x: 0, y: 2, px: 0.25 }
    expect(
      flown(trialOf({ off }, { method: 'chosen' }))
        .column('m.wheel.rate')
        .at(-1)!,
    ).toBeNear((0.25 * 2) / 0.5, { absolute: 1e-5 })
  })

  it('a twist in axes of the body turns it, as half a sine by 2/pi of its height', () => {
    const twist = { kind: 'twistCue', body: 'wheel', at: 0.2, over: 0.5, x: 0, y: 0, z: 4, axes: 'own', shape: 'halfSine' }
    const rate = flown(trialOf({ twist })).column('m.wheel.rate').at(-1)!
    expect(rate).toBeNear(((2 / Math.PI) * 4 * 0.5) / 0.5, { absolute: 1e-6 })
  })

  it('a gust moves what feels air: terminal speed is that of the wind', () => {
    const machine = sled({
      forces: { drag: { kind: 'airDrag', body: 'sled', at: [0, 0, 0], linear: 20, quadratic: 0 } },
      surroundings: { air: { kind: 'evenAir', density: 1.225 } },
    })
    const gust = { kind: 'gustCue', at: 0, over: 4, x: 3, y: 0, z: 0, shape: 'steady' }
    const { column, time } = flown(trialOf({ gust }, { realism: realismWith(['sampling', 'air', 'gusts']) }, free, machine))
    const speed = column('m.sled.rate')
    // m v' = c (3 - v): by hand
    expect([...speed].slice(0, 300)).toBeNear([...time].slice(0, 300).map((t) => 3 * (1 - Math.exp(-10 * t))), { absolute: 2e-2 }) // prettier-ignore
    expect(problems(trialOf({ gust }, {}, free, machine))).toEqual([
      'trials.run.cues.gust: The gust does nothing: the realism layer Wind is off in this trial.',
    ])
  })

  it('a load that is taken up makes the same push do less, at once or over a time', () => {
    const pushed = { ...push, at: 0, over: 3 }
    const load = { kind: 'changeCue', at: 1.0004, number: 'bodies.sled.mass', how: 'raised', amount: 1 }
    const { column, time } = flown(trialOf({ pushed, load }))
    const expected = [...time].map((t) => 3 * Math.min(t, 1.0004) + 2 * Math.max(t - 1.0004, 0))
    expect([...column('m.sled.rate')].slice(0, 290)).toBeNear(expected.slice(0, 290), { absolute: 1e-11 })
    // over a second the mass is 2 + s: the speed gains 6 ln((2 + s)/2)
    const slow = flown(trialOf({ pushed, load: { ...load, at: 1, over: 1 } }))
    const at2 = slow.column('m.sled.rate')[200]!
    expect(at2).toBeNear(3 + 6 * Math.log(1.5), { absolute: 1e-9 })
  })

  it('a drive that fails gives the rest of what it gave, and all of it again once that is over', () => {
    const pull = { kind: 'stepCue', loop: asCued('drives.motor'), at: 0, by: 6 }
    const half = { kind: 'failureCue', part: 'drives.motor', at: 0.5, loss: 0.5, until: { kind: 'lasting', time: 0.5 } }
    const whole = { kind: 'failureCue', part: 'drives.motor', at: 1.5 }
    const { column, time } = flown(trialOf({ pull, half, whole }))
    const expected = [...time].map((t) => 3 * Math.min(t, 0.5) + 1.5 * Math.min(Math.max(t - 0.5, 0), 0.5) + 3 * Math.min(Math.max(t - 1, 0), 0.5)) // prettier-ignore
    expect([...column('m.sled.rate')]).toBeNear(expected, { absolute: 1e-9 })
    // what is shown is what it gives
    const effort = column('m.drives.motor.effort')
    expect([effort[20], effort[70], effort[120], effort[170]]).toEqual([6, 3, 6, 0])
  })

  it('a number that is 0 in the document may grow', () => {
    const machine = sled({
      forces: {
        rubs: { kind: 'jointFriction', joint: 'sled.travel', viscous: 0, sliding: 0, breakaway: 0, stribeck: 1, smooth: 0.01 },
      },
    })
    const rub = { kind: 'changeCue', at: 0.5, number: 'forces.rubs.viscous', how: 'set', amount: 4 }
    const realism = realismWith(['sampling', 'viscous', 'friction'])
    const { column, time } = flown(trialOf({ push: { ...push, at: 0, over: 0.5 }, rub }, { realism, method: 'adaptive' }, free, machine)) // prettier-ignore
    const expected = [...time].map((t) => (t < 0.5 ? 3 * t : 1.5 * Math.exp(-2 * (t - 0.5))))
    expect([...column('m.sled.rate')]).toBeNear(expected, { absolute: 1e-6 })
  })

  it('costs nothing where nothing acts: the same bits as ever', () => {
    const plain = flown(trialOf({}, {}, hold))
    const late = flown(trialOf({ push: { ...push, x: 0 } }, {}, hold))
    expect(plain.column('m.sled.travel').every((value) => value === 0)).toBe(true)
    expect(late.column('m.sled.travel').every((value) => value === 0)).toBe(true)
  })
})

describe('when cues come', () => {
  const rise = { kind: 'stepCue', loop: 'hold', at: 0.5, by: 1 }

  it('once a condition has held for so long, so long after', () => {
    const waits = { kind: 'whenHolds', condition: 'm.sled.travel > 0.5 for 0.2 s' }
    const { time, column, cues } = flown(trialOf({ rise, blow: { ...push, at: 0.1, waits } }, { after: 4 }, hold))
    const travel = column('m.sled.travel')
    const first = time[travel.findIndex((value) => value > 0.5)]!
    expect(cues![1]!.began!).toBeNear(first + 0.2 + 0.1, { absolute: 1e-9 })
    expect(cues![1]!.over!).toBeNear(first + 0.3 + 0.3017, { absolute: 1e-9 })
    expect(column('m.forces.blow.force').findIndex((value) => value > 0)).toBe(Math.round((first + 0.3) * 100))
  })

  it('after another begins or is over, in chains, wherever they stand', () => {
    const third = { ...rise, kind: 'rampCue', at: 0.25, over: 1, waits: { kind: 'afterCue', cue: 'second' } }
    const second = { ...push, at: 0.5, over: 0.5, waits: { kind: 'afterCue', cue: 'rise', edge: 'begins' } }
    const { cues, time } = flown(trialOf({ third, second, rise }))
    expect(cues).toEqual([
      { cue: 'third', began: 1.75, over: 2.75 },
      { cue: 'second', began: 1, over: 1.5 },
      { cue: 'rise', began: 0.5, over: 0.5 },
    ])
    expect(time.at(-1)).toBe(4.75)
  })

  it('and end likewise: what they asked for is taken back', () => {
    const until = { kind: 'untilHolds', condition: 'sled.travel > 0.9' }
    const { column, time, cues } = flown(trialOf({ rise: { ...rise, until } }, { after: 6 }, hold))
    const first = [...column('m.sled.travel')].findIndex((value) => value > 0.9)
    expect(cues![0]).toEqual({ cue: 'rise', began: 0.5, over: time[first] })
    const asked = column('loops.hold.reference')
    expect([asked[first - 1], asked[first]]).toEqual([1, 0])
    const both = flown(
      trialOf({ rise, push: { ...push, at: 0, over: 5, until: { kind: 'untilCue', cue: 'rise' } } }, { after: 5 }),
    )
    expect([...both.column('m.forces.push.force')].lastIndexOf(6)).toBe(49)
    expect(both.column('m.sled.rate').at(-1)!).toBeNear(3 * 0.5, { absolute: 1e-9 })
  })

  it('has hysteresis where the condition says until', () => {
    // held from above 0.8 until below 0.2: so the second crossing of 0.5 is no new beginning
    const waits = { kind: 'whenHolds', condition: 'sled.travel > 0.8 until sled.travel < 0.2 for 1.5 s' }
    const back = { ...rise, at: 2.2, by: -0.5, waits: { kind: 'afterCue', cue: 'rise' } }
    const { cues, column, time } = flown(trialOf({ rise, back, blow: { ...push, at: 0, waits } }, { after: 6 }, hold))
    const first = time[column('m.sled.travel').findIndex((value) => value > 0.8)]!
    expect(cues![2]!.began!).toBeNear(first + 1.5, { absolute: 1e-9 })
  })

  it('what never comes is told, and does nothing', () => {
    const never = { ...push, waits: { kind: 'whenHolds', condition: 'sled.travel > 50' } }
    const { cues, column } = flown(trialOf({ rise, never }, {}, hold))
    expect(cues![1]).toEqual({ cue: 'never' })
    expect(column('m.sled.travel')).toEqual(flown(trialOf({ rise, other: { ...push, x: 0 } }, {}, hold)).column('m.sled.travel'))
  })

  it('figures and references are of the times at which cues came', () => {
    const waits = { kind: 'whenHolds', condition: 'sled.travel > 0.9' }
    const second = { ...rise, at: 0.25, by: 2, waits }
    const document = trialOf({ rise, second }, { after: 6 }, hold)
    const record = flown(document)
    const clock = asItCame(document, 'run', record.cues)
    const again = flown(clock)
    expect(again.column('m.sled.travel')).toEqual(record.column('m.sled.travel'))
    const figures = trialFigures(document, 'run', record).hold!
    expect(figures).toEqual(trialFigures(clock, 'run', again).hold)
    expect(figures.simulated!.overshoot).toBeNear(figures.predicted!.overshoot, { absolute: 2e-3 })
    expect(asItCame(trialOf({ rise }), 'run', record.cues).trials.run!.cues).toEqual({ rise })
  })
})

describe('what is wrong with cues', () => {
  const rise = { kind: 'stepCue', loop: 'hold', at: 0.5, by: 1 }
  const waits = (condition: string) => ({ ...rise, waits: { kind: 'whenHolds', condition } })
  const after = (cue: string) => ({ ...rise, waits: { kind: 'afterCue', cue } })
  const fault = { kind: 'stuckFault', at: 1, signal: 'loops.hold.command' }

  it.each<[string, object, string]>([
    ['a condition that is none', { a: waits('sled.travel') }, 'trials.run.cues.a.waits.condition: In the formula sled.travel, column 1: This is no comparison.'], // prettier-ignore
    ['a condition that always holds', { a: waits('1 < 2') }, 'trials.run.cues.a.waits.condition: The condition always holds: it names no signal.'], // prettier-ignore
    ['a signal of nothing', { a: waits('sledge.travel > 1') }, 'trials.run.cues.a.waits.condition: sledge.travel belongs to no machine, loop or estimator of this trial.'], // prettier-ignore
    ['a cue that is not there', { a: after('rose') }, 'trials.run.cues.a.waits.cue: There is no cue named rose.'],
    ['a cue that waits for itself', { a: after('a') }, 'trials.run.cues.a.waits.cue: The cue waits for itself.'],
    ['an end before the begin', { a: rise, b: { ...rise, at: 3, until: { kind: 'untilCue', cue: 'a' } } }, 'trials.run.cues.b.until: It ends at 0.5 s, before it begins at 3 s.'], // prettier-ignore
    ['a body that is not there', { a: { ...push, body: 'slad' } }, 'trials.run.cues.a.body: There is no body named slad.'],
    ['a number that is not there', { a: { kind: 'changeCue', at: 1, number: 'bodies.sled.weight', amount: 2 } }, 'trials.run.cues.a.number: There is no number of the machine named bodies.sled.weight.'], // prettier-ignore
    ['a number that matters at the start alone', { a: { kind: 'changeCue', at: 1, number: 'bodies.sled.joint.start', amount: 2 } }, 'trials.run.cues.a.number: The number bodies.sled.joint.start matters before a run'], // prettier-ignore
    ['a part that is not there', { a: { kind: 'failureCue', at: 1, part: 'drives.rotor' } }, 'trials.run.cues.a.part: There is no force or drive named drives.rotor.'], // prettier-ignore
    ['a signal that nobody reads', { a: { ...fault, signal: 'm.sled.travel.measured' } }, 'trials.run.cues.a.signal: There is no signal that anything reads named m.sled.travel.measured.'], // prettier-ignore
    ['a formula that cannot be read', { a: { ...fault, kind: 'replacedFault', formula: '2 *' } }, 'trials.run.cues.a.formula: '],
    ['limits the wrong way round', { a: { ...fault, kind: 'limitedFault', least: 2, most: 1 } }, 'trials.run.cues.a.least: The least, 2, lies over the most, 1.'], // prettier-ignore
  ])('%s is told where it stands', (_what, cues, expected) => {
    const found = problems(trialOf(cues, {}, hold))
    expect(found).toHaveLength(1)
    expect(found[0]).toContain(expected)
  })

  it('two that wait for each other are both told', () => {
    expect(problems(trialOf({ a: after('b'), b: after('a') }))).toEqual([
      'trials.run.cues.a.waits.cue: The cues a and b wait for each other, so neither comes.',
      'trials.run.cues.b.waits.cue: The cues b and a wait for each other, so neither comes.',
    ])
  })

  it('a signal that a run has not is told once it is compiled', () => {
    const { resolved } = expectDone(checkDocument(trialOf({ a: waits('m.sled.warmth > 1') })))
    expect(compile(resolved, 'run')).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'trials.run.cues.a.waits.condition', what: 'The run has no signal named m.sled.warmth.' }],
    })
  })
})
