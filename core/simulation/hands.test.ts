import { describe, expect, it } from 'vitest'
import { partsIn, replaceAt } from '../document'
import type { Document, Part } from '../document'
import { demo } from '../tests/demo'
import { checkDocument } from '../check'
import { withNewName } from '../rename'
import { expectDone } from '../tests/expectDone'
import { asItCame } from './asItCame'
import { compile } from './compile'
import { Pace, Touches, withTouches } from './live'
import { findColumn } from './record'
import type { Record as RunRecord } from './record'
import { layerNamesOn } from './runHash'
import { start } from './run'

const trial = 'squall'

/** The derrick in its squall with a hand of each kind. */
function document(): Document {
  const hands: Readonly<Record<string, Part>> = {
    boom: {
      kind: 'padHand',
      ...{ loop: 'slew', by: 0.1, loopUp: 'luff', byUp: 0.05, how: 'drives', goes: 'back', over: 0.2 },
    } as Part,
    lift: { kind: 'sliderHand', loop: 'hoist', by: 0.2, how: 'asks', goes: 'stays', over: 0.5 } as Part,
    line: { kind: 'buttonHand', key: 't' } as Part,
    swing: { kind: 'dialHand', gain: 'loops.slew.gains.rope.angle', least: 0, most: 2 } as Part,
  }
  const tug = {
    kind: 'pushCue',
    ...{ at: 0, over: 100, body: 'load', x: 0, y: 160, z: 0, waits: { kind: 'whenPressed', hand: 'line' } },
    until: { kind: 'untilLetGo', hand: 'line' },
  } as unknown as Part
  const handed = replaceAt(demo('derrick'), `trials.${trial}.hands`, hands)
  return replaceAt(replaceAt(handed, `trials.${trial}.cues.tug`, tug), `trials.${trial}.after`, 4)
}

const problemsOf = (of: Document) => {
  const found = checkDocument(of)
  return found.kind === 'refused' ? found.problems : []
}

function ready(of: Document) {
  const program = expectDone(compile(of, trial))
  const part = of.trials[trial]!
  return { program, simulation: start(program), choices: { trial, seed: part.seed as number, layers: layerNamesOn(part) } }
}

/** Runs it by hand: what is done at which time, s. */
function byHand(of: Document, done: readonly (readonly [at: number, touch: Parameters<Touches['touch']>[0]])[]) {
  const { program, simulation, choices } = ready(of)
  const going = simulation.begin(choices)
  const touches = new Touches(program, going)
  const rows: number[] = []
  for (const [at, touch] of done) {
    // in strides of no particular length
    for (let t = going.tick; t < Math.round(at / program.tick); t += 7)
      going.advance(Math.min(t + 7, Math.round(at / program.tick)))
    touches.touch(touch)
    rows.push(...going.taken())
  }
  going.advance(going.ticks)
  rows.push(...going.taken())
  return { record: going.record(), rows, kept: withTouches(of, trial, touches.cues), program }
}

const across = (to: number, isHeld = true) => ({ hand: 'boom', axis: 'across', to, over: 0.2, isHeld }) as const
const press = (to: number) => ({ hand: 'line', axis: 'up', to, over: 0, isHeld: to > 0 }) as const

const session = byHand(document(), [
  [1.003, across(0.3)],
  [1.1, across(0.731)],
  [2.02, { hand: 'lift', axis: 'up', to: -0.4, over: 0.5, isHeld: true }],
  [2.51, across(0, false)],
  [3.3, press(1)],
  [3.9, press(0)],
  [4.2, { hand: 'swing', axis: 'up', to: 1.37, over: 0, isHeld: false }],
  [6.1, press(1)],
  [6.6, press(0)],
])

/** Values of two runs that are not the same to the last bit. */
function differing(a: ArrayLike<number> | undefined, b: ArrayLike<number> | undefined): number {
  const [one, other] = [Array.from(a ?? []), Array.from(b ?? [])]
  return Math.abs(one.length - other.length) + one.filter((value, i) => !Object.is(value, other[i])).length
}

const again = (of: Document): RunRecord => {
  const { simulation, choices } = ready(of)
  return simulation.run(choices)
}

describe('a trial by hand', () => {
  it('runs again to the last bit from the cues that its touches became', () => {
    expect(differing(session.rows, session.record.rows)).toBe(0)
    const replayed = again(JSON.parse(JSON.stringify(session.kept)) as Document)
    expect(differing(replayed.rows, session.record.rows)).toBe(0)
    // and it is another run without them
    expect(differing(again(withTouches(session.kept, trial, [])).rows, session.record.rows)).toBeGreaterThan(0)
  })

  it('runs the same once more in the same memory, whatever came and was touched before', () => {
    const { simulation, choices } = ready(session.kept)
    const first = simulation.run(choices)
    expect(differing(simulation.run(choices).rows, first.rows)).toBe(0)
    expect(differing(first.rows, session.record.rows)).toBe(0)
  })

  it('keeps a touch from where it was held to where it was let go, and adds no time to the trial', () => {
    const cues = partsIn(session.kept.trials[trial]!.cues)
    expect(cues.touch1).toMatchObject({ hand: 'boom', axis: 'across', at: expect.closeTo(1, 2) })
    expect((cues.touch1!.points as number[][]).map(([, to]) => to)).toEqual([0.3, 0.731, 0])
    expect(Object.keys(cues).filter((name) => name.startsWith('touch'))).toHaveLength(5)
    expect(session.program.ticks).toBe(ready(session.kept).program.ticks)
  })

  it('drives a reference on at its rate, and lets it stand where it was let go', () => {
    const [with_, without] = [session.record, again(withTouches(session.kept, trial, []))]
    const asked = (t: number) => {
      const row = Math.round(t / with_.time[1]!)
      return findColumn(with_, 'loops.slew.reference')![row]! - findColumn(without, 'loops.slew.reference')![row]!
    }
    // up to 0.3 at 5 a second, then on to 0.731, and back to nothing in the same way: areas of trapezia
    const way = 0.3 * 0.097 - 0.3 ** 2 / 10 + (0.731 * 1.41 - (0.731 - 0.3) ** 2 / 10) + 0.731 ** 2 / 10
    expect(asked(4)).toBeCloseTo(0.1 * way, 3)
    expect(asked(9)).toBeCloseTo(asked(4), 12)
  })

  it('asks for as much of its most as it is moved', () => {
    const hoist = findColumn(session.record, 'loops.hoist.reference')!
    expect(hoist.at(-1)! - hoist[0]!).toBeCloseTo(-0.4 * 0.2, 12)
  })

  it('begins what waits for it whenever it is pressed, and ends it when it is let go', () => {
    const tug = session.record.cues!.find(({ cue }) => cue === 'tug')!
    expect(tug.began).toBeCloseTo(6.1, 2)
    expect(tug.over).toBeCloseTo(6.6, 2)
    // the load swings after the first pressing already
    const quiet = byHand(document(), [])
    const sway = (record: RunRecord, t: number) => findColumn(record, 'derrick.rope.angle')![Math.round(t / record.time[1]!)]!
    const first = byHand(document(), [
      [3.3, press(1)],
      [3.9, press(0)],
    ])
    expect(Math.abs(sway(first.record, 3.9) - sway(quiet.record, 3.9))).toBeGreaterThan(1e-3)
    expect(sway(first.record, 3.2)).toBe(sway(quiet.record, 3.2))
  })

  it('turns a gain as if it had been typed so, from then on', () => {
    const turned = byHand(document(), [[0, { hand: 'swing', axis: 'up', to: 0.5, over: 0, isHeld: false }]])
    const { program, simulation, choices } = ready(document())
    const gain = 'loops.slew.gains.rope.angle'
    const { value } = program.parameters.find(({ path }) => path === gain)!
    const typed = simulation.run({ ...choices, values: { [gain]: value * 0.5 } })
    expect(differing(turned.record.rows, typed.rows)).toBe(0)
  })

  it('refuses a gain that no loop has', () => {
    const wrong = replaceAt<Document>(document(), `trials.${trial}.hands.swing.gain`, 'loops.slew.gains.rope.angel')
    const outcome = compile(wrong, trial)
    expect(outcome).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'trials.squall.hands.swing.gain', remedy: expect.stringContaining('rope.angle') }],
    })
  })

  it.each([
    ['hands.line.key', 'hands.line.key', 'ArrowLeft', 'The key ArrowLeft already moves boom.'],
    ['hands.boom.loop', 'hands.boom.loop', 'sleew', 'There is no loop named sleew.'],
    ['hands.swing.gain', 'hands.swing.gain', 'loops.none.gains.kp', 'No loop of the machine has the gain loops.none.gains.kp.'],
    ['hands.again.gain', 'hands.again', { kind: 'dialHand', gain: 'loops.slew.gains.rope.angle' }, 'swing turns this gain already.'], // prettier-ignore
    ['hands.swing.least', 'hands.swing.least', 3, 'It turns from 3 to 2.'],
    ['cues.tug.waits.hand', 'cues.tug.waits.hand', 'boom', 'There is no button or switch named boom.'],
    ['cues.touch1.hand', 'cues.touch1.hand', 'bom', 'There is no hand named bom.'],
    ['cues.touch1.waits', 'cues.touch1.waits', { kind: 'lasting', time: 1 }, 'A touch of a hand waits for nothing.'],
    ['cues.touch2.points', 'cues.touch2.points', [[0, 1, 0], [0, 0, 0]], 'goes back'], // prettier-ignore
  ])('says what is wrong at %s', (place, at, value, what) => {
    const keyed = replaceAt<Document>(session.kept, `trials.${trial}.hands.boom.left`, 'ArrowLeft')
    expect(problemsOf(keyed)).toEqual([])
    const wrong = problemsOf(replaceAt(keyed, `trials.${trial}.${at}`, value))
    expect(wrong.map(({ where }) => where)).toContainEqual(expect.stringContaining(`trials.${trial}.${place}`))
    expect(wrong.map((one) => one.what).join(' ')).toContain(what)
  })

  it('keeps its hands where a loop has another name', () => {
    const renamed = withNewName(session.kept, 'loops.slew', 'turn').document
    expect(problemsOf(renamed)).toEqual([])
    expect(differing(again(renamed).rows, session.record.rows)).toBe(0)
  })

  it('is predicted from what was asked by hand', () => {
    const clocked = asItCame(session.kept, trial, session.record.cues)
    expect(Object.values(partsIn(clocked.trials[trial]!.cues)).some(({ kind }) => kind === 'touchCue')).toBe(false)
    const asked = again(clocked)
    const reference = findColumn(session.record, 'loops.slew.reference')!
    const same = findColumn(asked, 'loops.slew.reference')!
    const most = Math.max(...reference.map((value, i) => Math.abs(value - same[Math.min(i, same.length - 1)]!)))
    expect(most).toBeLessThan(2 * 0.1 * 0.731 * session.program.tick) // ticks of driving
    // the first pressing as well as the last
    const tugs = Object.values(partsIn(clocked.trials[trial]!.cues)).filter(({ kind }) => kind === 'pushCue')
    expect(tugs.map(({ at }) => at)).toEqual([expect.closeTo(3.3, 2), expect.closeTo(6.1, 2)])
    const { tug1: _first, ...later } = partsIn(clocked.trials[trial]!.cues)
    const swayAt4 = (record: RunRecord) => findColumn(record, 'derrick.rope.angle')![Math.round(4 / record.time[1]!)]!
    const without = again(replaceAt(clocked, `trials.${trial}.cues`, later))
    const gap = (record: RunRecord) => Math.abs(swayAt4(record) - swayAt4(session.record))
    expect(gap(asked)).toBeLessThan(0.2 * gap(without))
  })
})

describe('the pace of a run by hand', () => {
  it('follows the clock at its speed', () => {
    const pace = new Pace(0.5)
    expect(pace.aim(1000, 0)).toBe(0)
    expect(pace.aim(1040, 0.01)).toBeCloseTo(0.02, 12)
    pace.again(2)
    expect(pace.aim(9000, 0.02)).toBeCloseTo(0.02, 12)
    expect(pace.aim(9010, 0.02)).toBeCloseTo(0.04, 12)
    expect(pace.lost).toBe(0)
  })

  it('slows its clock where computing does not keep up, and tells to what', () => {
    const pace = new Pace(1)
    let [wall, run] = [0, 0]
    pace.aim(wall, run)
    let factor = 1
    for (let i = 0; i < 300; i++) {
      const aim = pace.aim(wall, run)
      // a machine that takes four seconds for a second
      const done = Math.min(aim - run, 0.005)
      run += done
      wall += Math.max(1, done * 4000)
      factor = pace.factor(wall, run)
    }
    expect(factor).toBeCloseTo(0.25, 2)
    expect(run / (wall / 1000)).toBeCloseTo(0.25, 2)
    expect(pace.lost).toBeCloseTo(wall * 0.75, -3)
  })
})
