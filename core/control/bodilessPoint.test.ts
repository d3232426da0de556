import { describe, expect, it } from 'vitest'
import type { Part } from '../document'
import { fullMechanism, machineProblems } from '../machine'
import { expectDone } from '../tests/expectDone'
import { linearPart, typedPart } from '../tests/parts'
import { reference } from '../tests/reference'
import { bodilessPoint, modes } from './index'

const pointOf = (machine: Part) => {
  expect(machineProblems('m', machine)).toEqual([])
  return expectDone(bodilessPoint(machine, fullMechanism))
}

describe('published linear models', () => {
  interface Jet {
    inputs: { A: number[][]; B: number[][] }
    expected: { eigenvalues: readonly { re: number; im: number }[]; dutch_roll?: { wn: number; zeta: number } }
  }
  // R. K. Heffley & W. F. Jewell, NASA CR-2144, 1972, as tabulated in textbooks; the matrices are the input
  it.each(['air-lateral-jet', 'air-longitudinal-jet'])('have their published modes: %s', (id) => {
    const { inputs, expected } = reference<Jet['inputs'], Jet['expected']>(id)
    const { system, residual } = pointOf(linearPart(inputs.A, inputs.B))
    const found = expectDone(modes(system))
    expect(residual).toBe(0)
    const published = expected.eigenvalues.filter(({ im }) => im >= 0)
    expect(found).toHaveLength(published.length)
    for (const { re, im } of published) {
      const near = found.find(({ pole }) => Math.hypot(pole.re - re, pole.im - im) < 1e-7 * Math.hypot(re, im) + 1e-12)
      expect(near).toBeDefined()
    }
    if (expected.dutch_roll === undefined) return
    const dutch = found.find(({ frequency }) => frequency > 0)!
    expect(dutch.frequency).toBeNear(expected.dutch_roll.wn, { relative: 1e-9 })
    expect(dutch.damping).toBeNear(expected.dutch_roll.zeta, { relative: 1e-9 })
  })

  it('sampled ones have the modes of the continuous one that gives the same samples', () => {
    // z = exp(s dt) for s = -0.5 ± 3i and dt = 0.1 (common practice, no source)
    const [size, angle] = [Math.exp(-0.05), 0.3]
    const [re, im] = [size * Math.cos(angle), size * Math.sin(angle)]
    const { system } = pointOf(
      linearPart(
        [
          [re, im],
          [-im, re],
        ],
        [[0], [1]],
        0.1,
      ),
    )
    const [mode] = expectDone(modes(system))
    expect([mode!.pole.re, mode!.pole.im]).toBeNear([-0.5, 3], { relative: 1e-9 })
    expect(system.dt).toBe(0.1)
  })
})

describe('an operating point of typed equations', () => {
  it.each([
    ['a pendulum', { angle: ['0', 'rate'], rate: ['0', '-9.80665 / 0.5 * sin(angle) - 0.1 * rate + u'] }, 0],
    ['a tank', { level: ['4', 'u - 0.5 * sqrt(level)'] }, 1],
    ['a motor', { current: ['0', '(u - 2 * current - 0.05 * speed) / 0.001'], speed: ['0', '500 * current'] }, 0],
    ['a flat rest', { x: ['0', '-x^3 + u'] }, 0],
    ['small beside large', { pressure: ['2e5', '(flow - 1e-8 * pressure) * 1e9'], flow: ['0.002', '(u - flow) / 0.01'] }, 0.002],
  ] as const)('stays to the last bit where equations rest at their start: %s', (_, states, u) => {
    const found = pointOf(typedPart(states, { u }))
    expect(found.states).toEqual(Object.values(states).map(([start]) => Number(start)))
    expect(found.inputs).toEqual([u])
  })

  it('holds what starts at rest by inputs alone: a load on a drum stays where it is', () => {
    // 0.8 of effort a unit against 12 kg at 0.1 m (weight times arm), and what turns stands still
    const states = { turn: ['0', 'pace'], pace: ['0', '(0.8 * push - 9.81 * 12 * 0.1 - 0.3 * pace) / 0.5'] } as const
    const found = pointOf(typedPart(states, { push: 0 }))
    expect(found.states).toEqual([0, 0])
    expect(found.inputs).toBeNear([(9.81 * 12 * 0.1) / 0.8], { relative: 1e-12 })
  })

  it('splits between inputs that do the same by least effort', () => {
    const { inputs, sharing } = pointOf(typedPart({ v: ['0', 'left + 2 * right - 10'] }, { left: 0, right: 0 }))
    expect(inputs).toBeNear([2, 4], { relative: 1e-12 })
    expect(sharing).toEqual(['left', 'right'])
  })

  it('is the published level flight', () => {
    // equations of B. L. Stevens & F. L. Lewis, Aircraft Control and Simulation, sec. 3.4; coefficients invented
    interface Trim {
      inputs: Record<'m' | 'S' | 'rho' | 'V' | 'CL0' | 'CLa' | 'CLde' | 'CD0' | 'k' | 'Cm0' | 'Cma' | 'Cmde' | 'c' | 'g', number>
      expected: { alpha_rad: number; elevator_rad: number; thrust_N: number; theta_rad: number }
    }
    const { inputs, expected } = reference<Trim['inputs'], Trim['expected']>('air-trim')
    const { CD: _words, gamma_deg: _level, ...constants } = inputs as Trim['inputs'] & { CD: string; gamma_deg: number }
    const lift = '(CL0 + CLa * alpha + CLde * elevator)'
    const force = (of: string) => `(0.5 * rho * speed^2 * S * ${of})`
    const machine = typedPart(
      {
        speed: ['50', `(thrust * cos(alpha) - ${force(`(CD0 + k * ${lift}^2)`)}) / m - g * sin(climb)`],
        climb: ['0', `(thrust * sin(alpha) + ${force(lift)}) / (m * speed) - g * cos(climb) / speed`],
        rate: ['0', `${force('c')} * (Cm0 + Cma * alpha + Cmde * elevator) / 1500`],
        alpha: ['0.1', `rate - ((thrust * sin(alpha) + ${force(lift)}) / (m * speed) - g * cos(climb) / speed)`],
        distance: ['0', 'speed * cos(climb)'],
        height: ['300', 'speed * sin(climb)'],
      },
      { thrust: 500, elevator: 0 },
      { constants, outputs: { pitch: 'climb + alpha' }, conditions: { speed: inputs.V, climb: 0 } },
    )
    const { states, inputs: held, running, system, open } = pointOf(machine)
    expect(held).toBeNear([expected.thrust_N, expected.elevator_rad], { relative: 1e-8 })
    expect(states[3]).toBeNear(expected.alpha_rad, { relative: 1e-8 })
    expect(running).toEqual(['distance', 'height'])
    expect(open).toBe(0)
    expect(system.outputs.at(-1)).toBe('pitch')
  })

  it('lets run on what it is told to, though others depend on it', () => {
    // a boat that turns: its heading runs on, and its place with it
    const machine = {
      ...typedPart(
        {
          heading: ['0', 'turn'],
          turn: ['0', '0.4 * rudder - 0.8 * turn'],
          east: ['0', '3 * cos(heading)'],
          north: ['0', '3 * sin(heading)'],
        },
        { rudder: 0 },
        { conditions: { turn: 0.1 } },
      ),
    } as Part
    const bound = bodilessPoint(machine, fullMechanism)
    expect(bound.kind).toBe('refused')
    const free = {
      ...machine,
      conditions: { ...(machine.conditions as object), on: { kind: 'runsOn', signal: 'heading' } },
    } as Part
    const { inputs, running, runs } = pointOf(free)
    expect(inputs).toBeNear([0.2], { relative: 1e-12 })
    expect(running).toEqual(['heading', 'east', 'north'])
    expect([runs.heading, runs.east]).toBeNear([0.1, 3], { relative: 1e-12 })
  })

  it('is the published throttle of a car, with its linear form', () => {
    // K. J. Åström & R. M. Murray, Feedback Systems, 2nd ed., sec. 4.1 (parameters from memory)
    interface Cruise {
      inputs: Record<'m' | 'Cr' | 'rho' | 'Cd' | 'A' | 'Tm' | 'wm' | 'beta' | 'g' | 'v0' | 'gear' | 'grade_deg', number> & {
        alpha: number[]
      }
      expected: { u0: number; u_on_grade: number; a: number; b: number; b_g: number }
    }
    const { inputs, expected } = reference<Cruise['inputs'], Cruise['expected']>('veh-cruise')
    const { m, Cr, rho, Cd, A, Tm, wm, beta, g } = inputs
    const car = (grade: number) =>
      typedPart(
        {
          speed: [
            '15',
            '(alpha * throttle * Tm * (1 - beta * (alpha * speed / wm - 1)^2) - m * g * Cr - 0.5 * rho * Cd * A * speed^2) / m - g * sin(grade)',
          ],
        },
        { throttle: 0.5, grade },
        {
          constants: { m, Cr, rho, Cd, A, Tm, wm, beta, g, alpha: inputs.alpha[inputs.gear - 1]! },
          conditions: { speed: inputs.v0, grade },
        },
      )
    const level = pointOf(car(0))
    expect(level.inputs[0]).toBeNear(expected.u0, { relative: 1e-9 })
    expect(level.system.a[0]![0]).toBeNear(expected.a, { relative: 1e-9 })
    expect(level.system.b[0]).toBeNear([expected.b, -expected.b_g], { relative: 1e-9 })
    const uphill = pointOf(car((inputs.grade_deg * Math.PI) / 180))
    expect(uphill.inputs[0]).toBeNear(expected.u_on_grade, { relative: 1e-9 })
  })

  it('is refused with its reason where nothing balances, and found once that is mended', () => {
    const falling = (inputs: Record<string, number>) =>
      typedPart({ rate: ['0', Object.keys(inputs).length > 0 ? 'push - 9.8' : '-9.8'] }, inputs)
    const outcome = bodilessPoint(falling({}), fullMechanism)
    expect(outcome).toMatchObject({
      kind: 'refused',
      problems: [{ what: expect.stringMatching(/rate keeps changing by 9.8/) as string }],
    })
    expect(pointOf(falling({ push: 0 })).inputs[0]).toBeNear(9.8, { relative: 1e-12 })
  })

  it('names the state whose rate divides by zero there', () => {
    const outcome = bodilessPoint(typedPart({ place: ['0', 'speed'], speed: ['1', 'push / place'] }, { push: 1 }), fullMechanism)
    expect(outcome).toMatchObject({
      kind: 'refused',
      problems: [{ where: 'states.speed', remedy: expect.stringMatching(/division by zero/) as string }],
    })
  })

  it('does not ask an input for more than its limit', () => {
    const machine = typedPart({ rate: ['0', 'push - 9.8'] }, { push: 0 })
    const limited = { ...machine, inputs: { push: { kind: 'plainInput', unit: 'N', nominal: 0, least: 0, most: 5 } } }
    expect(bodilessPoint(limited, fullMechanism).kind).toBe('refused')
  })
})

describe('problems of machines without bodies', () => {
  const machine = typedPart({ speed: ['0', '-speed + push'] }, { push: 0 })
  it.each<[string, Part, string, RegExp]>([
    [
      'an unknown name',
      typedPart({ speed: ['0', '-sped'] }, {}),
      'm.states.speed.rate',
      /column 2: There is no state, input or parameter named sped/,
    ],
    ['a name twice', typedPart({ speed: ['0', '1'] }, { speed: 0 }), 'm.inputs.speed', /a state already/],
    [
      'an unknown condition',
      { ...machine, conditions: { c: { kind: 'condition', signal: 'spede', value: 1 } } },
      'm.conditions.c.signal',
      /nothing named spede/,
    ],
    ['a matrix of the wrong shape', { ...linearPart([[1]], [[1]]), b: [[1, 2]] }, 'm.b', /B is 1 × 2; .* must be 1 × 1/],
    [
      'limits crossed',
      { ...machine, inputs: { push: { kind: 'plainInput', unit: 'N', nominal: 0, least: 2, most: 1 } } },
      'm.inputs.push.least',
      /not below/,
    ],
    [
      'a figure that follows nothing',
      { ...machine, figure: { it: { kind: 'figure', shape: 'boat', size: 3, x: 'sped' } } },
      'm.figure.it.x',
      /no state or output named sped/,
    ],
    ['no states', typedPart({}, {}), 'm.states', /no states/],
  ])('%s is explained where it is', (_, wrong, where, what) => {
    expect(machineProblems('m', machine)).toEqual([])
    const [problem] = machineProblems('m', wrong)
    expect(problem!.where).toBe(where)
    expect(problem!.what).toMatch(what)
    expect(problem!.remedy).not.toBe('')
  })
})
