// Trials that start elsewhere than where the machine rests.
import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import type { Document } from '../document'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { oneMachine, realismWith } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { replaceAt } from '../document'
import { withNewName } from '../rename'
import { compile, findColumn, limitsHit, start } from './index'

/** A sled of 2 kg with quadratic drag of 0.4 N s²/m², on a level rail. */
const sled = mechanismPart(
  { sled: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('sliding', 'ground', [0, 0, 0], { axis: [1, 0, 0], start: 0 })) },
  { gravity: 0, forces: { drag: { kind: 'airDrag', body: 'sled', at: [0, 0, 0], linear: 0, quadratic: 0.4 } } },
)
const thrown = (state: string, value: number, machine = sled) =>
  oneMachine(
    machine,
    {},
    {
      ...{ cues: {}, after: 3, step: 0.005, method: 'adaptive', realism: realismWith(['air']) },
      starts: { one: { kind: 'startNumber', state, value } },
    },
  )
const flown = (document: Document) => {
  const { resolved } = expectDone(checkDocument(document))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  return { time: [...record.time], column: (name: string) => [...findColumn(record, name)!] }
}
const problems = (document: Document) => {
  const found = checkDocument(document)
  return found.kind === 'refused' ? found.problems.map(({ where, what }) => `${where}: ${what}`) : []
}

describe('a trial that starts elsewhere', () => {
  it('is thrown: with quadratic drag c it goes m/c ln(1 + c v t / m) (closed form)', () => {
    const { time, column } = flown(thrown('sled.rate', 9))
    expect(column('m.sled.travel')).toBeNear(time.map((t) => (2 / 0.4) * Math.log(1 + (0.4 * 9 * t) / 2)), { absolute: 1e-7 }) // prettier-ignore
    expect(column('m.sled.rate')[0]).toBe(9)
  })

  it('falls with quadratic drag as in closed form, where nothing balances it, and says that it was let go', () => {
    // v = v_t tanh(g t / v_t), fallen v_t²/g ln cosh(g t / v_t); any textbook of mechanics
    const stone = mechanismPart(
      { stone: bodyPart(2, [0, 0, 0], [0.1, 0.1, 0.1], jointPart('free', 'ground', [0, 0, 0])) },
      { forces: { drag: { kind: 'airDrag', body: 'stone', at: [0, 0, 0], linear: 0, quadratic: 0.4 } } },
    )
    const document = oneMachine(stone, {}, { after: 2, step: 0.005, method: 'adaptive', realism: realismWith(['air']) })
    const { resolved } = expectDone(checkDocument(document))
    const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
    const last = Math.sqrt((2 * 9.80665) / 0.4)
    const fallen = [...record.time].map((t) => (-(last ** 2) / 9.80665) * Math.log(Math.cosh((9.80665 * t) / last)))
    expect([...findColumn(record, 'm.stone.z')!]).toBeNear(fallen, { absolute: 1e-6 })
    expect(limitsHit(resolved, record)).toMatchObject([{ sort: 'unbalanced', name: 'm', at: 0 }])
    // a loop that was to hold it has nothing to be designed about
    const held = { hold: { holds: 'stone.z', pushes: 'drives.none' } }
    expect(checkDocument({ ...document, loops: oneMachine(stone, held).loops }).kind).toBe('refused')
  })

  it('lies where it is put', () => {
    expect(flown(thrown('sled.travel', -2.5)).column('m.sled.travel').at(-1)).toBe(-2.5)
  })

  it('says what it cannot start with', () => {
    expect(problems(thrown('sled.rat', 1))).toEqual([
      'trials.run.starts.one.state: There is no position or speed named sled.rat.',
    ])
    const twice = replaceAt<Document>(thrown('sled.rate', 1), 'trials.run.starts.two', { kind: 'startNumber', state: 'sled.rate', value: 2 }) // prettier-ignore
    expect(problems(twice)).toEqual(['trials.run.starts.two.state: It starts with sled.rate twice.'])
    const start_ = { kind: 'startNumber', state: 'innerLeaf.angle', value: 0.5 }
    const ramp = replaceAt<Document>(demo('boarding-ramp'), 'trials.handButton.starts', { one: start_ })
    expect(problems(ramp)[0]).toContain('closed chains')
  })

  it('starts in a pose that the machine keeps, where no number says otherwise', () => {
    const motions = { wave: { kind: 'motion', coordinates: 'sled.travel', knots: [[0, 0.2], [1, -0.7]], passing: 'on' } } // prettier-ignore
    const kept = { ...sled, motions }
    const posed = (pose: number, more: object = {}) => {
      const document = thrown('sled.rate', 0, kept as never)
      return replaceAt<Document>(document, 'trials.run.starts', { one: { kind: 'startPose', motion: 'wave', pose }, ...more })
    }
    expect(flown(posed(2)).column('m.sled.travel')[0]).toBe(-0.7)
    const number = { two: { kind: 'startNumber', state: 'sled.rate', value: 3 } }
    const both = flown(posed(1, number))
    expect([both.column('m.sled.travel')[0], both.column('m.sled.rate')[0]]).toEqual([0.2, 3])
    expect(problems(posed(3))).toEqual(['trials.run.starts.one.pose: There is no pose 3: wave has 2.'])
    expect(problems(replaceAt<Document>(posed(1), 'trials.run.starts.one.motion', 'wafe'))).toEqual([
      'trials.run.starts.one.motion: There is no motion named wafe.',
    ])
    const renamed = withNewName(posed(2), 'machines.m.bodies.sled', 'slider').document
    expect(flown(renamed).column('m.slider.travel')[0]).toBe(-0.7)
  })

  it('keeps its start where a body has another name', () => {
    const renamed = withNewName(thrown('sled.rate', 9), 'machines.m.bodies.sled', 'slider').document
    expect(flown(renamed).column('m.slider.rate')[0]).toBe(9)
  })
})
