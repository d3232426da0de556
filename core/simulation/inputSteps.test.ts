import { describe, expect, it } from 'vitest'
import { checkDocument } from '../check'
import { designPoint } from '../control'
import { fromPolynomials } from '../linear'
import { demo } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { reference } from '../tests/reference'
import { inputSteps, modelReport, stepForms } from './index'
import type { StepForms } from './index'

const system = (num: number[], den: number[]) => ({ ...fromPolynomials(num, den, null), inputs: ['u'], outputs: ['y'] })
const only = (num: number[], den: number[]) => inputSteps(system(num, den), 'u', ['y'])[0]!

describe('a step of one input', () => {
  it('is the closed form of a lag, at all points and at the samples of a held model', () => {
    const { t, y, sampled } = only([3], [0.5, 1])
    expect(y).toBeNear(
      t.map((at) => 3 * (1 - Math.exp(-at / 0.5))),
      { relative: 1e-12 },
    )
    expect(sampled).toHaveLength(21)
    for (const { t: at, y: value } of sampled) expect(value).toBeNear(3 * (1 - Math.exp(-at / 0.5)), { absolute: 1e-12 })
  })

  it('is the same as continuous, as held and sampled, and as transfer function', () => {
    const [{ transfer, y, disagreement }] = stepForms(system([2, 1], [0.3, 0.8, 2, 1]), 'u', ['y']) as [StepForms]
    expect(transfer).toBeNear([...y], { absolute: 1e-11 })
    expect(disagreement).toBeLessThan(1e-11)
  })

  it.each(['lens-turret', 'sprung-cabin', 'derrick'])(
    'agrees in its three forms for every drive and coordinate of %s',
    (name) => {
      const { resolved } = expectDone(checkDocument(demo(name)))
      const { system: linear } = expectDone(designPoint(Object.values(resolved.machines)[0]!))
      for (const input of linear.inputs)
        for (const { output, disagreement } of stepForms(linear, input, linear.states.slice(0, linear.states.length / 2)))
          expect(disagreement, output).toBeLessThan(1e-6)
    },
  )

  it('names a start the wrong way', () => {
    // a zero in the right half plane; the undershoot is computed in the file
    const { inputs } = reference<{ num: number[]; den: number[] }, object>('lti-step-nonminphase')
    const fast = inputs.den.map((value, i) => value * 6 ** i) // six times faster, so that it is over in 2 s
    expect(
      only(
        [-6 * 6, 2 * 36].map((value) => value),
        fast,
      ).wrongWay,
    ).toBe(true)
    expect(only([1], [1, 1]).wrongWay).toBe(false)
    expect(only([0], [1, 1]).wrongWay).toBe(false)
  })

  it('ends where it comes to rest, long after it is looked at, or nowhere', () => {
    // a lag of 40 s is at a twentieth of its end after 2 s
    expect(only([3], [40, 1])).toMatchObject({ final: 3, wrongWay: false })
    expect(only([1], [1, 0]).final).toBeUndefined()
    expect(only([1], [1, -10]).final).toBeUndefined()
    // what cancels is no pole of it
    expect(only([1, 0], [1, 2, 0]).final).toBeNear(0.5, { relative: 1e-9 })
  })

  it('sets out the way of its first derivative, however short that is to be seen', () => {
    // a zero at +2000 rad/s: the wrong way for less than a millisecond
    expect(only([-1 / 2000, 1], [1, 2, 1]).wrongWay).toBe(true)
    expect(only([1 / 2000, 1], [1, 2, 1]).wrongWay).toBe(false)
    expect(only([1, -1], [1, 3, 3, 1]).wrongWay).toBe(true)
  })

  it('is looked at for less time where the machine runs away', () => {
    const { t, y } = only([1], [1, -10])
    expect(t.at(-1)).toBeNear(0.3, { relative: 1e-12 })
    expect(Math.max(...y)).toBeLessThan(10)
  })

  it('scales with its size', () => {
    const [one] = inputSteps(system([2], [1, 1]), 'u', ['y'], 5)
    expect(one!.y.at(-1)).toBeNear(5 * only([2], [1, 1]).y.at(-1)!, { relative: 1e-14 })
  })
})

describe('steps of a machine', () => {
  it('move first what the drive moves: a derrick slews, and its load stays behind', () => {
    const { point } = modelReport(demo('derrick').machines.derrick!)
    if (point.kind === 'refused') throw new Error('The derrick rests.')
    const steps = inputSteps(point.value.system, 'drives.slew', ['column.angle', 'rope.angle', 'boom.angle'], 100)
    const [column, rope, boom] = steps.map(({ y }) => y.at(-1)!)
    expect(column).toBeGreaterThan(0)
    expect(Math.abs(rope!)).toBeGreaterThan(1e-4)
    expect(Math.abs(boom!)).toBeLessThan(1e-3 * column!) // slewing from rest does not luff
  })

  it('raise what an engineer expects: more fold torque lifts the outer leaf', () => {
    const { point } = modelReport(demo('boarding-ramp').machines.ramp!)
    if (point.kind === 'refused') throw new Error('The ramp rests.')
    const [outer] = inputSteps(point.value.system, 'drives.foldDrive', ['outerLeaf.angle'])
    expect(outer!.wrongWay).toBe(false)
    expect(outer!.y.at(-1)).toBeGreaterThan(0)
  })
})
