import { describe, expect, it } from 'vitest'
import { checkDocument, withRenamedParameter } from '../index'
import type { Document, Part } from '../document'
import { replaceAt } from '../document'
import { expectDone } from '../tests/expectDone'
import { oneMachine } from '../tests/oneMachine'
import { bodyPart, jointPart, mechanismPart } from '../tests/parts'
import { compile, findColumn, start } from './index'

const bob = (length: unknown, mass: unknown): Part => ({
  ...bodyPart(0, [0, 0, 0], [0, 0, 0], jointPart('turning', 'ground', [0, 0, 0], { axis: [0, 1, 0], start: 0.3 })),
  mass,
  centre: [0, 0, length],
})

/** Two pendulums of one length, drawn by formulas, and a spring that only one of them has. */
const machine = {
  ...mechanismPart({ left: bob('= -length', 2), right: bob('= -length', '= 2 * load') }),
  forces: { stay: { kind: 'jointSpring', joint: 'left.angle', stiffness: 0, damping: 0, rest: 0 } },
  drives: { hold: { kind: 'effortDrive', joint: 'right.angle', most: 100 } },
}
const parameters = {
  length: { kind: 'parameter', value: 0.5, unit: 'm', least: 0.1 },
  load: { kind: 'parameter', value: 1, unit: 'kg' },
}
const documentWith = (overrides: Record<string, unknown>, own: Part = machine): Document => ({
  ...oneMachine(own, {}, { after: 2, overrides, cues: {} }),
  parameters: parameters as never,
})
const change = (parameter: string, how: 'times' | 'set', amount: number) => ({ kind: 'override', parameter, how, amount })
const problems = (document: Document) => {
  const outcome = checkDocument(document)
  return outcome.kind === 'refused' ? outcome.problems : []
}
/** Angles at the end of the run of a pendulum that starts out of balance, as left is not held. */
function ends(overrides: Record<string, unknown>, own: Part = machine) {
  const { resolved } = expectDone(checkDocument(documentWith(overrides, own)))
  const record = start(expectDone(compile(resolved, 'run'))).run({ trial: 'run', layers: [], seed: 1 })
  return ['left', 'right'].map((name) => findColumn(record, `m.${name}.angle`)!.at(-1)!)
}
/** The same with the numbers written into the document, as the truth is; the model knows them too, so nothing may hold by it. */
const drawn = (length: number, load: number): Part => ({
  ...machine,
  bodies: { left: bob(-length, 2), right: bob(-length, 2 * load) },
})

describe('what a trial changes of a machine', () => {
  it('is every number made of a parameter, and what the software knows stays', () => {
    // the drive holds the right one with the torque of the model: with twice the load it falls
    const [left, right] = ends({ first: change('parameters.load', 'times', 2) })
    const byNumber = ends({ first: change('bodies.right.mass', 'times', 2) })
    expect([left, right]).toEqual(byNumber)
    expect(right).not.toBeNear(0.3, { absolute: 0.05 })
    expect(ends({})[1]).toBeNear(0.3, { absolute: 1e-9 })
  })

  it('takes all changes of parameters together, then those of numbers', () => {
    const both = ends({ a: change('parameters.length', 'set', 0.7), b: change('parameters.load', 'set', 1.5), c: change('bodies.left.mass', 'set', 3) }) // prettier-ignore
    const numbers = ends({
      a: change('bodies.left.centre.2', 'set', -0.7),
      b: change('bodies.right.centre.2', 'set', -0.7),
      c: change('bodies.right.mass', 'set', 3),
      d: change('bodies.left.mass', 'set', 3),
    })
    expect(both).toEqual(numbers)
  })

  it('reaches what was 0 before, and directions', () => {
    // a spring without stiffness is no structure of the document, but one of the trial
    const loose = documentWith({}, { ...machine, drives: {} })
    expect(problems(loose)).toEqual([])
    const axis = (angle: number) => ends({ first: change('bodies.right.joint.turned.2', 'set', angle) }, drawn(0.5, 1))
    expect(axis(0.4)[1]).toBeNear(0.3, { absolute: 1e-9 })
    const offset = ends({ first: change('bodies.right.centre.0', 'set', 0.1) })
    expect(offset[1]).not.toBeNear(0.3, { absolute: 0.02 })
  })

  it('is told where it cannot be', () => {
    expect(problems(documentWith({ first: change('parameters.lenght', 'set', 1) }))).toMatchObject([
      { where: 'trials.run.overrides.first.parameter', remedy: 'Did you mean parameters.length?' },
    ])
    expect(problems(documentWith({ first: change('parameters.load', 'set', -1) }))).toMatchObject([
      { where: 'trials.run.overrides.first.amount', what: /mass -2 kg/ },
    ])
    const divided = replaceAt(
      documentWith({ first: change('parameters.load', 'set', 0) }),
      'machines.m.bodies.left.mass',
      '= 2 / load',
    )
    expect(problems(divided)).toMatchObject([{ where: 'trials.run.overrides.first.amount', what: /no finite value/ }])
    const flat = documentWith({ first: change('bodies.left.inertia.0', 'set', 1) })
    expect(problems(flat)).toMatchObject([{ where: 'trials.run.overrides.first', what: /^As this trial changes it/ }])
  })

  it('follows the new name of a parameter', () => {
    const renamed = withRenamedParameter(documentWith({ first: change('parameters.load', 'times', 2) }), 'load', 'burden')
    expect(problems(renamed)).toEqual([])
    expect(renamed.trials.run!.overrides.first!.parameter).toBe('parameters.burden')
  })
})
