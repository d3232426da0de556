import { partsIn } from '../document'
import { describe, expect, it } from 'vitest'
import { machineProblems } from '../machine'
import { expectDone } from '../tests/expectDone'
import { matricesToText, parseLinkTable, parseMatrices, parseNumberRows } from './index'

const blocks = `
states: surge [m/s], yaw.rate [rad/s]
inputs: thrust [N]
sample time: 0.02 s
A
1, 0
0.1, 0.9
B
0.5
0
`

describe('matrices as text', () => {
  it('are read in blocks with names and units', () => {
    const machine = expectDone(parseMatrices(blocks))
    expect(machineProblems('m', machine)).toEqual([])
    expect(machine).toMatchObject({
      sampleTime: 0.02,
      a: [
        [1, 0],
        [0.1, 0.9],
      ],
      b: [[0.5], [0]],
      c: [],
      d: [],
    })
    expect(Object.entries(partsIn(machine.states))).toMatchObject([
      ['surge', { unit: 'm/s' }],
      ['yawRate', { unit: 'rad/s' }],
    ])
  })

  it('are read as JSON, and come back as they were written', () => {
    const system = {
      a: [
        [0, 1],
        [-2, -3],
      ],
      b: [[0], [1 / 3]],
      c: [[1, 0]],
      d: [[0]],
      dt: null,
      states: ['place', 'speed'],
      inputs: ['push'],
      outputs: ['read'],
    }
    const fromJson = expectDone(parseMatrices(JSON.stringify(system)))
    const fromText = expectDone(parseMatrices(matricesToText(system)))
    expect(fromText).toEqual(fromJson)
    expect(fromJson).toMatchObject({ a: system.a, b: system.b, c: system.c, d: system.d })
    expect(machineProblems('m', fromJson)).toEqual([])
  })

  it('of one state have as many inputs as their one row says', () => {
    expect(Object.keys(partsIn(expectDone(parseMatrices('A\n-1\nB\n2 3\n')).inputs))).toEqual(['u1', 'u2'])
  })

  it('without D pass nothing at once, and with one what it says', () => {
    const read = (more: object) => expectDone(parseMatrices(JSON.stringify({ a: [[-1]], b: [[1]], c: [[2], [5]], ...more })))
    expect(read({}).d).toEqual([[0], [0]])
    expect(read({ d: [[3], [4]] }).d).toEqual([[3], [4]])
    expect(expectDone(parseMatrices('{"a":[[-1]],"b":[[1]]}')).d).toEqual([])
  })

  it('get names where none are given, and none twice', () => {
    const machine = expectDone(parseMatrices('states: a b, a-b, t\nA\n1 0 0\n0 1 0\n0 0 1\nB\n1 0\n0 1\n0 0'))
    expect(Object.keys(partsIn(machine.states))).toEqual(['aB', 'aB2', 'x3'])
    expect(Object.keys(partsIn(machine.inputs))).toEqual(['u1', 'u2'])
  })

  it.each([
    ['{ "a": [[1]] }', 'b', /`b` is required/],
    ['{ "a": [[1]], "b": ', '', /not JSON/],
    ['1, 2\n3, 4', '', /stands before any matrix/],
    ['A\n1', '', /A and B are wanted/],
    ['A\n1, 2\n3\nB\n1\n1', 'A, line 2', /Line 2 has 1 numbers; 2 are wanted/],
    ['A\n1, x\n3, 4\nB\n1\n1', 'A, line 1', /x, which is no number/],
    ['states: one\nA\n1 0\n0 1\nB\n1\n1', 'states', /1 states are named; the matrices have 2/],
    ['sample time: -1\nA\n1\nB\n1', 'sample time', /sample time is -1/],
  ])('with a slip are explained where they are: %j', (text, where, what) => {
    const outcome = parseMatrices(text)
    if (outcome.kind === 'done') throw new Error('It should be refused.')
    expect(outcome.problems[0]!.where).toBe(where)
    expect(outcome.problems[0]!.what).toMatch(what)
  })
})

describe('rows of numbers', () => {
  it.each([
    [
      '1, 2\n3, 4',
      [
        [1, 2],
        [3, 4],
      ],
    ],
    [
      '1\t2\n3\t4\n',
      [
        [1, 2],
        [3, 4],
      ],
    ],
    [
      '"1","2"\n"-3","4"',
      [
        [1, 2],
        [-3, 4],
      ],
    ],
    ['x; y\n1; 2', [[1, 2]]],
    [
      '  1   2  \n\n -3e-2 4',
      [
        [1, 2],
        [-0.03, 4],
      ],
    ],
    ['= 2 * mass, 1', [['= 2 * mass', 1]]],
    ['', []],
  ])('are read from %j', (text, rows) => {
    expect(expectDone(parseNumberRows(text))).toEqual(rows)
  })

  it('refuse a text that is too long', () => {
    expect(parseNumberRows('1 '.repeat(400_000)).kind).toBe('refused')
  })
})

describe('a table of link parameters as text', () => {
  it('takes lengths in metres and angles in degrees or radians', () => {
    const rows = expectDone(parseLinkTable('joint a alpha d theta\nturning 0.4 90 0.1 0\ns, 0, -1.5rad, 0.2, 45°'))
    expect(rows).toEqual([
      { joint: 'turning', a: 0.4, alpha: Math.PI / 2, d: 0.1, theta: 0 },
      { joint: 'sliding', a: 0, alpha: -1.5, d: 0.2, theta: Math.PI / 4 },
    ])
  })

  it.each([
    ['', /no rows/],
    ['rolling 1 2 3 4', /rolling, which is no joint/],
    ['turning 1 2 3', /has 3 numbers/],
    ['turning 1 2 x 4', /x on line 1 is no number/],
  ])('explains a slip: %j', (text, what) => {
    const outcome = parseLinkTable(text)
    expect(outcome.kind === 'refused' && outcome.problems[0]!.what).toMatch(what)
  })
})
