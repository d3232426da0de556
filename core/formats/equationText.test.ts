import { partsIn } from '../document'
import { describe, expect, it } from 'vitest'
import { machineProblems } from '../machine'
import { expectDone } from '../tests/expectDone'
import { parseEquations } from './index'

const cart = `
# a cart in thick air
speed' = (thrust - drag * speed^2) / mass [m/s]
place' = speed   [m]
speed(0) = 2 * pi
mass = 12 [kg]
drag = 0.4
power = thrust * speed [W]
`

describe('equations as text', () => {
  const { machine, parameters } = expectDone(parseEquations(cart))

  it('become states with their starts and units, outputs and parameters', () => {
    expect(machine.states).toEqual({
      speed: { kind: 'equationState', unit: 'm/s', start: 2 * Math.PI, rate: '(thrust - drag * speed^2) / mass' },
      place: { kind: 'equationState', unit: 'm', start: 0, rate: 'speed' },
    })
    expect(machine.outputs).toEqual({ power: { kind: 'equationOutput', unit: 'W', value: 'thrust * speed' } })
    expect(parameters).toEqual({
      mass: { kind: 'parameter', value: 12, unit: 'kg' },
      drag: { kind: 'parameter', value: 0.4, unit: '' },
    })
  })

  it('take what nothing defines for inputs', () => {
    expect(Object.keys(partsIn(machine.inputs))).toEqual(['thrust'])
    const constants = Object.fromEntries(Object.entries(parameters).map(([name, one]) => [name, { ...one, kind: 'constant' }]))
    expect(machineProblems('m', { ...machine, constants })).toEqual([])
  })

  it.each([
    ['', '', /No line says how a state changes/],
    ["x' 3", 'line 1', /has no =/],
    ["x' = 2 * (y", 'line 1', /Column \d+/],
    ["X' = 1", 'line 1', /not a usable name/],
    ["x' = 1\nx' = 2", 'line 2', /said twice/],
    ['y(0) = 1', 'line 1', /nothing says how it changes/],
    ["x' = 1\nx(0) = y", 'line 2', /no number/],
  ])('with a slip (%s) are explained where they are', (text, where, what) => {
    const outcome = parseEquations(text)
    if (outcome.kind === 'done') throw new Error('It should be refused.')
    expect(outcome.problems[0]!.where).toBe(where)
    expect(outcome.problems[0]!.what).toMatch(what)
    expect(outcome.problems[0]!.remedy).not.toBe('')
  })

  it('count columns in the line that was typed', () => {
    const outcome = parseEquations("x' = 2 * sine(3)")
    expect(outcome).toMatchObject({
      kind: 'refused',
      problems: [{ what: expect.stringMatching(/^Column 10: There is no function named sine/) as string }],
    })
  })
})
