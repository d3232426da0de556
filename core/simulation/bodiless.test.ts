import { describe, expect, it } from 'vitest'
import { fullMechanism } from '../machine'
import { linearPart, typedPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { findColumn, freeProgram, inputSteps, modelReport } from './index'

describe('typed equations in time', () => {
  it('turn a ship as the closed form of its steering says', () => {
    // T. I. Fossen, Handbook of Marine Craft Hydrodynamics and Motion Control, 2011, sec. 7.2; numbers illustrative
    const { inputs, expected } = reference<
      { K: number; T: number; rudder_deg: number; t: number },
      { yaw_rate: number; heading: number }
    >('ship-nomoto')
    const ship = typedPart(
      { rate: ['0', '(K * rudder - rate) / T'], heading: ['0', 'rate'] },
      { rudder: (inputs.rudder_deg * Math.PI) / 180 },
      { constants: { K: inputs.K, T: inputs.T } },
    )
    const { time, columns } = freeProgram(ship, fullMechanism, []).run({ until: inputs.t, step: 0.1, every: 100 })
    expect(time.at(-1)).toBeNear(inputs.t, { relative: 1e-12 })
    expect(columns[0]!.values.at(-1)!).toBeNear(expected.yaw_rate, { relative: 1e-9 })
    expect(columns[1]!.values.at(-1)!).toBeNear(expected.heading, { relative: 1e-9 })
  })

  it('may depend on time', () => {
    const { columns } = freeProgram(typedPart({ x: ['0', 'cos(t)'] }, {}), fullMechanism, []).run({
      until: 2,
      step: 0.01,
      every: 200,
    })
    expect(columns[0]!.values.at(-1)!).toBeNear(Math.sin(2), { relative: 1e-9 })
  })
})

describe('a sampled linear model in time', () => {
  it('goes by its difference equation', () => {
    const machine = linearPart(
      [
        [0.5, 0.2],
        [0, 0.8],
      ],
      [[0.1], [1]],
      0.25,
    )
    const { columns, time } = freeProgram(machine, fullMechanism, []).run({
      start: [1, -1],
      inputs: [2],
      until: 1,
      step: 0.25,
      every: 1,
    })
    let x = [1, -1]
    const byHand = [x]
    for (let k = 0; k < 4; k++) byHand.push((x = [0.5 * x[0]! + 0.2 * x[1]! + 0.2, 0.8 * x[1]! + 2]))
    expect(Array.from(time)).toBeNear([0, 0.25, 0.5, 0.75, 1], { absolute: 1e-15 })
    expect(columns.map(({ values }) => Array.from(values))).toBeNear(
      [0, 1].map((i) => byHand.map((row) => row[i]!)),
      { relative: 1e-15 },
    )
  })
})

describe('the report of a machine without bodies', () => {
  it('says where it balances, what runs on, and that it stays bounded', () => {
    const cart = typedPart({ speed: ['1', '-0.5 * speed + push'], place: ['0', 'speed'] }, { push: 0 })
    const { checks, point, seconds, swing } = modelReport(cart)
    expect(seconds).toBe(swing.time.at(-1))
    expect(checks.map(({ name, holds }) => [name, holds])).toEqual([
      ['States', true],
      ['Stays bounded', true],
      ['Balances', true],
    ])
    expect(point.kind === 'done' && point.value.runs.map(({ name }) => name)).toEqual(['place'])
    const place = findColumn(swing as never, 'place')!
    expect(place.at(-1)!).toBeNear(1 / 0.5, { relative: 5e-3 }) // six time constants
    expect(checks[1]!.value).toBe(swing.time.at(-1))
  })

  it('names the state that runs away', () => {
    const { checks } = modelReport(typedPart({ x: ['1', 'x^2'] }, {}))
    expect(checks.find(({ name }) => name === 'Stays bounded')).toMatchObject({
      holds: false,
      note: expect.stringMatching(/^x runs away/) as string,
    })
  })

  it('steps inputs of sampled models too', () => {
    const { point } = modelReport(linearPart([[0.9]], [[0.1]], 0.1))
    if (point.kind === 'refused') throw new Error('It balances at 0.')
    const [step] = inputSteps(point.value.system, 'u1', ['x1'])
    expect(step!.y.at(-1)).toBeNear(1 - 0.9 ** (step!.t.length - 1), { relative: 1e-12 })
  })
})

describe('a stiff machine alone', () => {
  // a winding of 5 ohm and 1e-8 H turns a rotor: 5e8 rad/s beside 5 rad/s
  const motor = linearPart(
    [
      [-5e8, -5e6],
      [500, -1],
    ],
    [[1e8], [0]],
  )
  it('runs in few steps, to where it settles by its slow mode', () => {
    const program = freeProgram(motor, fullMechanism, [], 5e8)
    const { columns, ending, time } = program.run({ start: [0, 100], inputs: [0], until: 1, step: 0.05, every: 1 })
    expect(ending.kind).toBe('finished')
    // the winding follows at once: i = -w/100, so w' = -6 w
    const turn = columns.find(({ name }) => name === 'x2')!.values
    expect(turn).toBeNear(
      Array.from(time, (t) => 100 * Math.exp(-6 * t)),
      { absolute: 1e-4 },
    )
  })
  it('is checked like any other', () => {
    const report = modelReport(motor)
    expect(report.swing.ending.kind).toBe('finished')
    expect(report.checks.filter(({ holds }) => !holds)).toEqual([])
  })
})
