// Numbers found from records that were made from the same model with other numbers, and what no record can tell.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { compile, normalPair, signalsOf, start } from '../simulation'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { benchOf, bestLate, cuesThatSeparate, likelyMapping, measuredOf, recordAccount, slopesOfCandidates } from './index'
import type { RecordAccount } from './index'

const sliding = (axis: readonly number[]) => jointPart('sliding', 'ground', [0, 0, 0], { axis, start: 0 })
/** Two sleds on rails, each with a spring; the second carries a box and is damped by a parameter. */
const machine = mechanismPart(
  {
    plain: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], sliding([1, 0, 0])),
    laden: bodyPart(3, [0, 0, 0], [0.1, 0.1, 0.1], sliding([0, 1, 0])),
    box: bodyPart(1, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('fixed', 'laden', [0, 0, 0])),
  },
  {
    gravity: 0,
    forces: {
      free: { kind: 'jointSpring', joint: 'plain.travel', stiffness: 50, damping: 0.4, rest: 0 },
      held: { kind: 'jointSpring', joint: 'laden.travel', stiffness: 80, damping: '= 2 * wear', rest: 0 },
    },
  },
)
const starts = {
  a: { kind: 'startNumber', state: 'plain.travel', value: 0.2 },
  b: { kind: 'startNumber', state: 'laden.travel', value: 0.2 },
}
const push = { kind: 'pushCue', body: 'laden', at: 1, over: 0.5, x: 0, y: 6, z: 0 }
const checkedWith = (trial: object, wear: unknown = 0.9) =>
  expectDone(
    checkDocument({
      ...oneMachine(machine, {}, { after: 6, step: 0.002, method: 'fixed', realism: realismWith([]), starts, ...trial }),
      parameters: { wear: { kind: 'parameter', value: wear, unit: '' } },
    }),
  )

interface Recorded {
  readonly truth: Readonly<Record<string, number>>
  readonly wear?: number
  readonly noise?: number
  readonly late?: number
  readonly cues?: object
  readonly after?: number
  readonly said?: readonly string[]
}

function benchFor(names: readonly string[], { truth, wear, noise = 0.0005, late = 0, cues = {}, after = 6 }: Recorded) {
  const changes = Object.entries(truth).map(([parameter, amount], i) => [
    `o${i}`,
    { kind: 'override', parameter, how: 'set', amount },
  ])
  const truly = checkedWith({ cues, after, overrides: Object.fromEntries(changes) }, wear).resolved
  const run = start(expectDone(compile(truly, 'run', { only: new Set(names) }))).run({ trial: 'run', layers: [], seed: 1 })
  const rows = [...run.time.keys()].filter((k) => k % 5 === 0)
  const noisy = (values: Float64Array, s: number) =>
    Float64Array.from(rows, (k) => values[k]! + noise * (normalPair(9, s, k)[0] as number))
  const table = {
    ...{ file: 'r.csv', rows: rows.length, every: 1 },
    columns: [
      { name: 'time [s]', values: Float64Array.from(rows, (k) => run.time[k]! + late) },
      ...run.columns.map(({ name, unit, values }, s) => ({ name: `${name} [${unit}]`, values: noisy(values, s) })),
    ],
  }
  const { document: written, resolved } = checkedWith({ cues, after })
  const signals = signalsOf(resolved, 'run')
  const measured = expectDone(measuredOf(table, likelyMapping(table, signals, ''), 'r', signals))
  const asked = { written, resolved, trial: 'run', measured, from: 0, to: 20 }
  return { asked, bench: expectDone(benchOf(asked)) }
}

function accountOf(names: readonly string[], recorded: Recorded): RecordAccount {
  const { bench } = benchFor(names, recorded)
  const { said } = recorded
  const shift = bestLate(bench, 0)
  return expectDone(recordAccount(bench, slopesOfCandidates(bench, shift, bench.candidates), shift, said))
}

const [plain, laden] = ['m.plain.travel', 'm.laden.travel']
const named = ({ numbers }: RecordAccount) => Object.fromEntries(numbers.map((one) => [one.name, one]))

describe('the account against a record', () => {
  it('finds the numbers that were other, how late it is, and leaves noise', () => {
    const made = accountOf([plain, laden], { truth: { 'forces.free.damping': 0.7 }, wear: 1.3, cues: { push }, late: 0.05 })
    const numbers = named(made)
    expect(Object.keys(numbers).sort()).toEqual(['forces.free.damping', 'parameters.wear'])
    const [damping, wear] = [numbers['forces.free.damping']!, numbers['parameters.wear']!]
    expect([damping.now, wear.now]).toEqual([0.4, 0.9])
    expect(Math.abs(damping.fitted - 0.7)).toBeLessThan(1.5 * damping.bound)
    expect(Math.abs(wear.fitted - 1.3)).toBeLessThan(1.5 * wear.bound)
    expect(damping.bound).toBeLessThan(0.01)
    expect(Math.abs(made.late.value - 0.05)).toBeLessThan(1.5 * made.late.bound)
    expect(made.signals.map(({ look }) => look.looks)).toEqual(['white', 'white'])
    for (const { after } of made.signals) expect(after).toBeNear(0.0005, { relative: 0.1 })
  })

  it('has shares that add up to the whole with what is left, each where it acts', () => {
    const made = accountOf([plain, laden], { truth: { 'forces.free.damping': 0.7 }, wear: 1.3, cues: { push } })
    made.signals.forEach(({ before, after }, s) => {
      const shares = made.numbers.reduce((sum, { portions }) => sum + portions[s]!, 0)
      expect(shares + after / before).toBeNear(1, { relative: 1e-9 })
    })
    const { 'forces.free.damping': damping, 'parameters.wear': wear } = named(made)
    expect([damping!.portions[1], wear!.portions[0]].every((portion) => Math.abs(portion!) < 0.01)).toBe(true)
  })

  it('says that of a spring and its mass only the ratio shows', () => {
    const made = accountOf([plain], { truth: { 'forces.free.stiffness': 55 }, said: ['forces.free.stiffness'] })
    const [one] = made.numbers
    expect(one!.fitted).toBeNear(55, { relative: 0.005 })
    // damping is small beside the spring, so the mass shows by their ratio alone
    const mate = one!.mates.find(({ name }) => name === 'bodies.plain.mass')
    expect(mate).toMatchObject({ shows: 'ratio' })
    expect(mate!.instead).toBeNear((2 * 50) / one!.fitted, { relative: 1e-9 })
  })

  it('says that of bodies that are fixed to one another only the sum of masses shows', () => {
    const made = accountOf([laden], { truth: { 'bodies.box.mass': 1.6 }, cues: { push }, said: ['bodies.laden.mass'] })
    const [one] = made.numbers
    expect(one!.fitted).toBeNear(3.6, { relative: 0.01 })
    expect(one!.mates.find(({ name }) => name === 'bodies.box.mass')).toMatchObject({ shows: 'sum' })
    expect(one!.mates[0]!.instead).toBeNear(1.6, { relative: 0.02 })
  })

  it('names the cue that would tell a spring from its mass: a push of a force that is known', () => {
    const { asked, bench } = benchFor([laden], { truth: {} })
    const find = (name: string) => bench.candidates.find((one) => one.name === name)!
    const pair = [find('forces.held.stiffness'), find('bodies.laden.mass')] as const
    const { now, cues } = expectDone(cuesThatSeparate(asked, bench, pair, []))
    expect(cues[0]!.label).toBe('push of 8.8 N on laden along y')
    expect(cues[0]!.bound).toBeLessThan(now / 2)
    // along x nothing of it moves: such a push tells no more than the same record once more
    const silent = cues.find(({ label }) => label.endsWith('along x'))!
    expect(silent.bound).toBeGreaterThan(now / 2)
    // a record that is flown with that cue knows it as well as was foretold
    const { cue, after, bound } = cues[0]!
    const flown = accountOf([laden], {
      ...{ truth: { 'forces.held.stiffness': 84 }, cues: { push: cue }, after },
      said: ['forces.held.stiffness', 'bodies.laden.mass'],
    })
    const stiffness = flown.numbers[0]!
    expect(stiffness.bound / stiffness.fitted).toBeLessThan(2 * bound)
    expect(stiffness.fitted).toBeNear(84, { relative: 2 * bound })
  })

  it('blames nothing for noise alone', () => {
    const made = accountOf([plain, laden], { truth: {}, cues: { push } })
    expect(made.numbers).toEqual([])
    expect(made.signals.every(({ look }) => look.looks === 'white')).toBe(true)
  })

  it('is refused over a window without rows, which it names', () => {
    const { document: written, resolved } = checkedWith({})
    const measured = {
      time: Float64Array.from([0, 1]),
      signals: new Map([[plain, new Float64Array(2)]]),
      lanes: new Map(),
      gaps: [],
      step: 1,
      cautions: [],
    }
    const made = benchOf({ written, resolved, trial: 'run', measured, from: 2, to: 3 })
    expect(made.kind === 'refused' && made.problems[0]!.where).toBe('window')
  })
})
