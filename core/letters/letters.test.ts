import { describe, expect, it } from 'vitest'
import { Graph, add, cos, evaluation, mul, pow, sin, sub } from '../expression'
import type { Scalar } from '../expression'
import type { Part } from '../document'
import { mechanismPoint } from '../control'
import { replaceAt } from '../document'
import { transferFunction } from '../linear'
import { designMechanism, numbersOf } from '../machine'
import { demo, demoNames } from '../tests/demo'
import { expectDone } from '../tests/expectDone'
import { bodyPart, jointPart, linearPart, mechanismPart, typedPart } from '../tests/parts'
import { numbersFrom } from '../tests/randomGraph'
import { Atoms } from './atoms'
import { createReader } from './fromGraph'
import { equationsInLetters, freeBodyInLetters, linearInLetters, mechanismInLetters, transferInLetters } from './index'
import { equationToLatex, numberToLatex, sumToTerms } from './print'
import { simplified } from './simplify'
import type { Sum } from './sum'

const letters = ['a', 'b', 'c', 'x', 'y']

function readers() {
  const atoms = new Atoms()
  const graph = new Graph()
  const slots = letters.map((letter, i) => {
    atoms.letter(letter, letter)
    return graph.slot(i)
  })
  return { atoms, slots, read: createReader(atoms, (slot) => letters[slot]!) }
}

/** The value of a sum at values of its letters. */
function valueOf(sum: Sum, atoms: Atoms, values: Readonly<Record<string, number>>): number {
  let total = 0
  for (const { factor, powers } of sum.values()) {
    let product = factor
    for (const [key, power] of powers) {
      const { turn } = atoms.get(key)
      const angle = turn === undefined ? 0 : [...turn.angle].reduce((all, [letter, times]) => all + times * values[letter]!, 0)
      product *= (turn === undefined ? values[key]! : turn.of === 'sin' ? Math.sin(angle) : Math.cos(angle)) ** power
    }
    total += product
  }
  return total
}

const latexOf = (expression: (slots: readonly Scalar[]) => Scalar): string => {
  const { atoms, slots, read } = readers()
  return sumToTerms(
    simplified(read(expression(slots))!, atoms),
    atoms,
    () => false,
    () => 0,
  ).join(' ')
}

describe('sums of products', () => {
  it.each([
    ['sin² + cos² is 1', ([, , , x]: readonly Scalar[]) => add(mul(sin(x!), sin(x!)), mul(cos(x!), cos(x!))), '1'],
    [
      'the cosine of a sum',
      ([a, , , x, y]: readonly Scalar[]) => mul(a!, sub(mul(cos(x!), cos(y!)), mul(sin(x!), sin(y!)))),
      'a\\,\\cos(x+y)',
    ],
    [
      'the cosine of a difference',
      ([, , , x, y]: readonly Scalar[]) => add(mul(cos(x!), cos(y!)), mul(sin(x!), sin(y!))),
      '\\cos(x-y)',
    ],
    ['the sine of a sum', ([, , , x, y]: readonly Scalar[]) => add(mul(sin(x!), cos(y!)), mul(cos(x!), sin(y!))), '\\sin(x+y)'],
    ['A - A cos² is A sin²', ([a, , , x]: readonly Scalar[]) => sub(a!, mul(a!, mul(cos(x!), cos(x!)))), 'a\\,\\sin^{2} x'],
    [
      'whole powers of sums are multiplied out',
      ([a, b]: readonly Scalar[]) => sub(pow(add(a!, b!), 3), pow(a!, 3)),
      'b\\,\\left(3\\,a^{2} +3\\,a\\,b +b^{2}\\right)',
    ],
    [
      'powers below 0 are of single products',
      ([a, b, c]: readonly Scalar[]) => mul(a!, pow(mul(b!, c!), -2)),
      '\\frac{a}{b^{2}\\,c^{2}}',
    ],
    ['what cancels is gone', ([a, b]: readonly Scalar[]) => sub(mul(a!, add(a!, b!)), mul(a!, a!)), 'a\\,b'],
  ])('%s', (_, expression, latex) => {
    expect(latexOf(expression)).toBe(latex)
  })

  it.each([1, 2, 3, 4, 5, 6, 7, 8])('keep their value when they are simplified, seed %i', (seed) => {
    const { atoms, slots, read } = readers()
    const next = numbersFrom(seed)
    const pick = (): Scalar => {
      const slot = slots[Math.floor(next() * slots.length)]!
      return slot.index < 3 ? slot : next() < 0.5 ? sin(slot) : cos(slot)
    }
    let expression: Scalar = 0
    for (let i = 0; i < 14; i++) expression = add(expression, mul(mul(pick(), pick()), mul(pick(), next() < 0.5 ? 1 : pick())))
    const values = Object.fromEntries(letters.map((letter) => [letter, 2 * next() - 1]))
    const exact = evaluation(letters.map((letter) => values[letter]!)).number(expression) as number
    const sum = read(expression)!
    expect(valueOf(sum, atoms, values)).toBeNear(exact, { absolute: 1e-12 })
    const short = simplified(sum, atoms)
    expect(valueOf(short, atoms, values)).toBeNear(exact, { absolute: 1e-12 })
    expect(short.size).toBeLessThanOrEqual(sum.size)
  })

  it.each([
    [0.5, '\\tfrac{1}{2}'],
    [3, '3'],
    [2 / 3, '\\tfrac{2}{3}'],
    [0.1234567, '0.1235'],
    [1.5e-7, '1.5 \\cdot 10^{-7}'],
  ])('write %d as %s', (value, latex) => {
    expect(numberToLatex(value)).toBe(latex)
  })
})

describe('a mechanism in letters', () => {
  const level = { axis: [0, -1, 0] }
  const inertia: [number, number, number] = [0.02, 0.03, 0.02]

  it('is the textbook pendulum', () => {
    // (I + m c²) θ'' + m g c sin θ = τ: common practice, no source
    const bob = bodyPart(2, [0, 0, -0.8], inertia, jointPart('turning', 'ground', [0, 0, 1], level))
    const machine = mechanismPart({ bob }, { drives: { motor: { kind: 'effortDrive', joint: 'bob.angle', most: 5 } } })
    const { lines } = expectDone(mechanismInLetters(machine, machine, 'all'))
    expect(lines).toHaveLength(1)
    expect(lines[0]).toContain('I_{\\mathrm{bob},yy}')
    expect(lines[0]).toContain('{c_{\\mathrm{bob},z}}^{2}\\,m_{\\mathrm{bob}}')
    expect(lines[0]).toMatch(/\\sin \\theta_\{\\mathrm\{bob\}\} = \\tau_\{\\mathrm\{motor\}\}$/)
    expect(lines[0]).not.toContain('\\cos')
  })

  it('of two links is the textbook form: one coupling by the angle between them, gravity by sums of angles', () => {
    // J. J. Craig, Introduction to Robotics, ch. 6 (from memory): cos θ2 in the inertia, sin θ2 in the Coriolis terms
    const parameters = { length: 0.5, load: 3 }
    const link = (on: string, at: [number, number, number]) =>
      bodyPart(1, [0.25, 0, 0], inertia, jointPart('turning', on, at, level))
    const machine = mechanismPart({ upper: link('ground', [0, 0, 0]), fore: link('upper', [0.5, 0, 0]) })
    const written = structuredClone(machine) as unknown as { bodies: Record<string, { mass: unknown; joint: { at: unknown[] } }> }
    written.bodies.fore!.mass = '= load'
    written.bodies.fore!.joint.at[0] = '= length'
    const { lines, legend } = expectDone(mechanismInLetters(machine, written as unknown as Part, 'parameters'))
    expect(lines).toHaveLength(2)
    for (const line of lines) {
      expect(line).toContain('\\cos \\theta_{\\mathrm{fore}}')
      expect(line).toContain('\\mathrm{load}')
    }
    expect(lines[0]).toContain('\\mathrm{length}')
    expect(lines[1]).toMatch(/\\cos\(\\theta_\{\\mathrm\{fore\}\}\+\\theta_\{\\mathrm\{upper\}\}\)/)
    expect(lines[1]).toMatch(/\\sin \\theta_\{\\mathrm\{fore\}\}\\,\{\\dot\{\\theta\}_\{\\mathrm\{upper\}\}\}\^\{2\}/)
    expect(legend.map(({ words }) => words)).toEqual(expect.arrayContaining(['upper', 'fore', ...Object.keys(parameters)]))
  })

  it('begins with what is longer than a line', () => {
    const long = 'x'.repeat(90)
    // 78 letters fit a line, from its beginning
    const lines = equationToLatex(['x'.repeat(78), 'y'.repeat(70)], '1234567')
    expect(lines.split('\\\\')).toHaveLength(2)
    expect(equationToLatex([long], '0')).toBe(`\\begin{aligned} & ${long} \\\\ & \\quad = 0 \\end{aligned}`)
  })

  it('breaks lines that would not fit, and lists only letters that appear', () => {
    const long = equationToLatex(
      Array.from({ length: 12 }, (_, i) => `+I_{\\mathrm{body${i}},xx}\\,\\ddot{\\theta}`),
      '0',
    )
    expect(long.startsWith('\\begin{aligned}')).toBe(true)
    expect(long.split('\\\\').length).toBeGreaterThan(1)
    expect(equationToLatex(['a', '+b'], 'c')).toBe('a +b = c')
    const bob = bodyPart(2, [0, 0, -0.8], inertia, jointPart('turning', 'ground', [0, 0, 1], level))
    const { legend } = expectDone(mechanismInLetters(mechanismPart({ bob }), mechanismPart({ bob }), 'all'))
    expect(legend.map(({ words }) => words)).not.toContain('inertia xx, bodies.bob.inertia.0')
  })

  it('keeps names for forces whose terms are long, and writes out short ones', () => {
    const bob = bodyPart(2, [0, 0, -0.8], inertia, jointPart('turning', 'ground', [0, 0, 1], level))
    const machine = mechanismPart(
      { bob },
      {
        forces: {
          spring: { kind: 'jointSpring', joint: 'bob.angle', stiffness: 7, damping: 0.5, rest: 0 },
          cable: {
            kind: 'cable',
            from: 'ground',
            fromAt: [0, 0, 2],
            to: 'bob',
            toAt: [0, 0, -0.8],
            length: 1,
            stiffness: 100,
            damping: 0,
          },
        },
      },
    )
    const { lines } = expectDone(mechanismInLetters(machine, machine, 'all'))
    expect(lines[0]).toContain('s_{\\mathrm{spring}}')
    expect(lines[0]).toMatch(/= Q_\{\\mathrm\{cable\},1\}$/)
  })

  it('is kindly refused where it would fill pages', () => {
    const outcome = mechanismInLetters(demo('rock-walker').machines.walker!, demo('rock-walker').machines.walker!, 'all')
    expect(outcome).toMatchObject({ kind: 'refused', problems: [{ remedy: expect.stringMatching(/smaller|up to 4/) as string }] })
  })

  const ofBodies = demoNames.filter((name) => Object.values(demo(name).machines).some(({ kind }) => kind === 'mechanism'))
  it.each(ofBodies)('answers for the demo machine %s, one way or the other', (name) => {
    for (const machine of Object.values(demo(name).machines)) {
      expect(numbersOf(machine)).toBeDefined()
      const outcome = mechanismInLetters(machine, machine, 'parameters')
      if (outcome.kind === 'done') for (const line of outcome.value.lines) expect(line.length).toBeLessThan(6000)
    }
  })
})

describe('machines without bodies in letters', () => {
  it('are their formulas, set as mathematics', () => {
    const machine = typedPart(
      { speed: ['0', '(thrust - drag * speed^2) / mass'], v: ['0', '-(speed + v) * 2 - sqrt(abs(v)) + sin(pi * v)'] },
      { thrust: 0 },
      { outputs: { power: 'thrust * speed' } },
    )
    expect(equationsInLetters(machine).lines).toEqual([
      '\\dot{\\mathrm{speed}} = \\frac{\\mathrm{thrust} - \\mathrm{drag}\\,\\mathrm{speed}^{2}}{\\mathrm{mass}}',
      '\\dot{v} = -\\left(\\mathrm{speed} + v\\right)\\,2 - \\sqrt{\\left|v\\right|} + \\sin\\left(\\pi\\,v\\right)',
      '\\mathrm{power} = \\mathrm{thrust}\\,\\mathrm{speed}',
    ])
  })

  it('of matrices are the matrices, formulas and all', () => {
    const machine = { ...linearPart([[-1]], [[2]]), b: [['= 1 / mass']] }
    expect(equationsInLetters(machine).lines.at(-1)).toBe(
      '\\dot{x} = \\begin{bmatrix} -1 \\end{bmatrix} (x - x_0) + \\begin{bmatrix} \\frac{1}{\\mathrm{mass}} \\end{bmatrix} (u - u_0)',
    )
  })
})

describe('the linear form in letters', () => {
  const system = {
    a: [
      [0, 1],
      [-2.5, 0],
    ],
    b: [[0], [0.5]],
    c: [],
    d: [],
    dt: null,
    states: ['boom.angle', 'boom.rate'],
    inputs: ['drives.luff'],
    outputs: [],
  }

  it('has its matrices and the names of its signals', () => {
    const [line] = linearInLetters(system)!
    expect(line).toContain('\\begin{bmatrix} 0 & 1 \\\\ -\\tfrac{5}{2} & 0 \\end{bmatrix}')
    expect(line).toContain('\\theta_{\\mathrm{boom}}')
    expect(line).toContain('\\tau_{\\mathrm{luff}}')
  })

  it('is left out where it would not fit', () => {
    const states = Array.from({ length: 20 }, (_, i) => `x${i}`)
    expect(linearInLetters({ ...system, states })).toBeUndefined()
  })
})

describe('a trolley with a hanging load about rest', () => {
  // (M + m) s'' - m l θ'' = F, m l² θ'' - m l s'' + m g l θ = 0: common practice, no source; derived by hand from
  // L = (M + m) s'² / 2 - m l s' θ' cos θ + m l² θ'² / 2 + m g l cos θ
  const z = (value: unknown) => [0, 0, value]
  const written = {
    kind: 'mechanism',
    gravity: 9.80665,
    bodies: {
      trolley: bodyPart(12, [0, 0, 0], [1, 1, 1], jointPart('sliding', 'ground', [0, 0, 3], { axis: [1, 0, 0] })),
      load: {
        ...bodyPart(1, [0, 0, -1], [0, 0, 0], jointPart('turning', 'trolley', [0, 0, 0], { axis: [0, 1, 0] })),
        mass: '= m',
        centre: z('= -l'),
      },
    },
    drives: { pull: { kind: 'effortDrive', joint: 'trolley.travel', most: 400 } },
  }
  const machine = replaceAt(replaceAt(written, 'bodies.load.mass', 60), 'bodies.load.centre', z(-2.2))
  const { linear } = expectDone(mechanismInLetters(machine, written, 'parameters', [0.4, 0]))

  it('is the textbook form', () => {
    expect(linear!.lines).toEqual([
      'M\\,\\Delta \\ddot q + K\\,\\Delta q = \\Delta u' +
        ',\\quad q = \\begin{bmatrix} s_{\\mathrm{trolley}} \\\\ \\theta_{\\mathrm{load}} \\end{bmatrix}' +
        ',\\quad u = \\begin{bmatrix} \\tau_{\\mathrm{pull}} \\\\ 0 \\end{bmatrix}',
      'M = \\begin{bmatrix} 12 +m & -l\\,m \\\\ -l\\,m & l^{2}\\,m \\end{bmatrix}',
      'K = \\begin{bmatrix} 0 & 0 \\\\ 0 & g\\,l\\,m \\end{bmatrix}',
    ])
  })

  it('has the textbook transfer functions over one denominator', () => {
    const over = (output: string, words: string) =>
      `\\frac{\\Delta ${output}(s)}{\\Delta \\tau_{\\mathrm{pull}}(s)} = \\frac{${words}}{N(s)}`
    expect(linear!.transfer).toEqual([
      over('s_{\\mathrm{trolley}}', 'l^{2}\\,m\\,s^{2} + g\\,l\\,m'),
      over('\\theta_{\\mathrm{load}}', 'l\\,m\\,s^{2}'),
      // m l² (M + m) - m² l² = M m l²
      'N(s) = 12\\,l^{2}\\,m\\,s^{4} + g\\,l\\,m\\,\\left(12 +m\\right)\\,s^{2}',
    ])
  })

  it('agrees with the numbers of the exact linear form', () => {
    const { system } = expectDone(mechanismPoint(machine, designMechanism))
    const { numerator, denominator } = transferFunction(system, 0, system.outputs.indexOf('load.angle'))!
    const [m, l, g] = [60, 2.2, 9.80665]
    // leading coefficient of N is 12 m l²
    expect(numerator).toBeNear([(l * m) / (12 * l * l * m), 0, 0], { relative: 1e-12, absolute: 1e-12 })
    expect(denominator).toBeNear([1, 0, (g * (12 + m)) / (12 * l), 0, 0], { relative: 1e-12, absolute: 1e-12 })
  })

  it('keeps letters of resting angles that are neither 0 nor a quarter turn', () => {
    const form = expectDone(mechanismInLetters(machine, written, 'parameters', [0, 0.3])).linear!
    expect(form.lines[1]).toContain('-l\\,m\\,\\cos \\theta_{\\mathrm{load}}')
  })

  it('keeps viscous friction and leaves dry friction out, as the design does', () => {
    const loss = { kind: 'jointFriction', joint: 'load.angle', sliding: 3, breakaway: 4, viscous: 1, stribeck: 0.1, smooth: 0.01 }
    const rough = { ...machine, forces: { loss } }
    const rubbing = { ...written, forces: { loss } }
    const found = expectDone(mechanismInLetters(rough, rubbing, 'parameters', [0.4, 0]))
    expect(found.linear!.lines[2]).toBe('D = \\begin{bmatrix} 0 & 0 \\\\ 0 & 1 \\end{bmatrix}')
    // M D: (M + m) c s³ beside what was there without friction
    expect(found.linear!.transfer[2]).toBe(
      'N(s) = 12\\,l^{2}\\,m\\,s^{4} + \\left(12 +m\\right)\\,s^{3} + g\\,l\\,m\\,\\left(12 +m\\right)\\,s^{2}',
    )
    const dry = { ...loss, viscous: 0 }
    const sticking = expectDone(
      mechanismInLetters({ ...rough, forces: { dry } }, { ...rubbing, forces: { dry } }, 'parameters', [0.4, 0]),
    )
    expect(sticking.linear).toEqual(linear)
    expect(found.lines.join()).toContain('Q_{\\mathrm{loss},2}')
  })

  it('says what cannot be written out', () => {
    const cable = { kind: 'cable', from: 'ground', fromAt: z(6), to: 'load', toAt: z(-2.2), length: 4, stiffness: 9, damping: 0 }
    const tied = { ...machine, forces: { cable } }
    const found = expectDone(mechanismInLetters(tied, { ...written, forces: { cable } }, 'parameters', [0.4, 0]))
    expect(found.linear).toMatchObject({ lines: [], transfer: [], note: expect.stringMatching(/cable/) as string })
  })
})

describe('transfer functions in numbers', () => {
  it('are those of a mass on a spring', () => {
    const system = {
      ...{ a: [[0, 1], [-4, -0.4]], b: [[0], [0.5]], c: [[1, 0]], d: [[0]] }, // prettier-ignore
      ...{ dt: null, states: ['x', 'v'], inputs: ['push'], outputs: ['x'] },
    }
    expect(transferInLetters(system)).toEqual([
      '\\frac{\\Delta x}{\\Delta \\mathrm{push}} = \\frac{\\tfrac{1}{2}}{s^{2} + 0.4\\,s + 4}',
    ])
    expect(transferInLetters({ ...system, dt: 0.1 })[0]).toContain('z^{2}')
    expect(transferInLetters({ ...system, states: Array.from({ length: 9 }, (_, i) => `x${i}`) })).toEqual([])
  })
})

describe('the free body in letters', () => {
  it('has every force once, with its lever about the joint', () => {
    const at = [0, 0, 1] as const
    const none = [0, 0, 0] as const
    const [first, second] = freeBodyInLetters('boom', 'mast', [
      { from: 'weight', sort: 'weight', at: [1, 0, 1], force: [0, 0, -9], moment: none },
      { from: 'forces.strut', sort: 'effect', at: [0.5, 0, 1], force: [3, 0, 4], moment: none },
      { from: 'mast', sort: 'joint', at, force: [-3, 0, 5], moment: [0, 2, 0] },
    ])
    expect(first).toBe(
      'm_{\\mathrm{boom}}\\,\\vec g + \\vec F_{\\mathrm{strut}} + \\vec R_{\\mathrm{mast}} = m_{\\mathrm{boom}}\\,\\vec a_{\\mathrm{boom}}',
    )
    expect(second).toBe(
      '\\vec r_{\\mathrm{weight}} \\times m_{\\mathrm{boom}}\\,\\vec g + \\vec r_{\\mathrm{strut}} \\times \\vec F_{\\mathrm{strut}} + \\vec M_{\\mathrm{mast}} = \\dot{\\vec L}_{\\mathrm{boom}}',
    )
    expect(freeBodyInLetters('boom', 'mast', [])[0]).toMatch(/^0 =/)
  })
})
