import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import { checkDocument } from '../index'
import { Graph, evaluate, jacobianAt } from '../expression'
import { replaceAt } from '../document'
import type { Document, Problem } from '../document'
import { demo } from '../tests/demo'
import { isFormula, parseFormula, renameParameter } from './index'

function valueOf(text: string, names: Record<string, number> = {}): number {
  const parsed = parseFormula(text)
  if (parsed.kind === 'wrong') throw new Error(parsed.what)
  return parsed.formula.value((name) => names[name]!) as number
}

describe('a formula', () => {
  it.each<[string, number]>([
    ['2 + 3 * 4', 14],
    ['(2 + 3) * 4', 20],
    ['2 ^ 3 ^ 2', 512], // powers bind to the right: common practice
    ['-2 ^ 2', -4], // and closer than a sign
    ['10 - 4 - 3', 3],
    ['12 / 2 / 3', 2],
    ['sqrt(16) + abs(-2)', 6],
    ['max(1, min(5, 3))', 3],
    ['1.5e-3', 0.0015],
    ['+4', 4],
  ])('%s is %d', (text, value) => expect(valueOf(text)).toBeNear(value, { relative: 1e-15 }))

  it('knows pi and the functions of angles in rad', () => {
    expect(valueOf('sin(pi / 6)')).toBeNear(0.5, { absolute: 1e-15 })
    expect(valueOf('atan2(1, -1)')).toBeNear((3 * Math.PI) / 4, { relative: 1e-15 })
    expect(valueOf('log(exp(2))')).toBeNear(2, { relative: 1e-14 })
  })

  it('is the same over numbers and over expressions, and has exact derivatives there', () => {
    const parsed = parseFormula('a * sin(b) + a ^ 2 / b')
    if (parsed.kind === 'wrong') throw new Error(parsed.what)
    const graph = new Graph()
    const written = parsed.formula.value((name) => graph.slot(name === 'a' ? 0 : 1))
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 5, noNaN: true }), fc.double({ min: 0.1, max: 3, noNaN: true }), (a, b) => {
        expect(evaluate(written, [a, b])).toBe(parsed.formula.value((name) => (name === 'a' ? a : b)))
        const [[da, db]] = jacobianAt([written], [0, 1], [a, b]) as [[number, number]]
        expect(da).toBeNear(Math.sin(b) + (2 * a) / b, { relative: 1e-12 })
        expect(db).toBeNear(a * Math.cos(b) - (a * a) / (b * b), { relative: 1e-12, absolute: 1e-12 })
      }),
    )
  })

  it.each<[text: string, column: number, words: RegExp]>([
    ['2 +', 4, /Unexpected end/],
    ['2 * (3 + 4', 11, /expected/],
    ['3 m', 3, /side by side/],
    ['arm boom', 1, /side by side/],
    ['2 (3)', 1, /side by side/],
    ['sine(2)', 1, /no function named sine/],
    ['2 + import("x")', 5, /no function named import/],
    ['max(1)', 1, /takes 2/],
    ['a = 3', 1, /Only arithmetic/],
    ['f(x) = x', 1, /Only arithmetic/],
    ['a > b ? 1 : 2', 1, /Only arithmetic/],
    ['[1, 2]', 1, /Only arithmetic/],
    ['"text"', 2, /not a finite number/],
    ['1e999', 1, /not a finite number/],
    ['a.(b)', 3, /.+/],
    ['f(2).b', 1, /names can stand around a dot/],
    ['a[1]', 1, /names can stand around a dot/],
  ])('%s is refused at column %i', (text, column, words) => {
    const parsed = parseFormula(text)
    expect(parsed.kind).toBe('wrong')
    if (parsed.kind === 'formula') return
    expect(parsed.what).toMatch(words)
    expect(parsed.column).toBe(column)
    expect(parsed.remedy).not.toBe('')
  })

  it('is never run as code', () => {
    for (const text of ['constructor', 'a.constructor("return 1")()', '(1).constructor', 'eval(1)', 'globalThis'])
      expect(() => {
        const parsed = parseFormula(text)
        if (parsed.kind === 'formula') parsed.formula.value(() => 1)
      }).not.toThrow()
  })

  it('of any letters ends in a value or a problem, never in a crash', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (text) => {
        expect(['formula', 'wrong']).toContain(parseFormula(text).kind)
      }),
    )
  })
})

describe('parameters', () => {
  const parameter = (value: number | string, more: object = {}) => ({ kind: 'parameter', value, unit: 'm', ...more })
  const ramp = (parameters: object, path = 'machines.ramp.bodies.foot.mass', value: unknown = '= footMass'): Document =>
    replaceAt({ ...demo('boarding-ramp'), parameters } as unknown as Document, path, value)
  const problemsOf = (document: Document): readonly Problem[] => {
    const outcome = checkDocument(document)
    return outcome.kind === 'refused' ? outcome.problems : []
  }
  const resolved = (document: Document) => {
    const outcome = checkDocument(document)
    if (outcome.kind === 'refused') throw new Error(JSON.stringify(outcome.problems))
    return outcome.value
  }

  it('stand in any number, also inside a vector, and over one another', () => {
    const document = ramp({ footMass: parameter('= 2 * base'), base: parameter(1.1) })
    const both = replaceAt(document, 'machines.ramp.bodies.foot.centre', [0, '= base / 10', 0])
    const { resolved: found, document: kept } = resolved(both)
    const foot = (found.machines.ramp as unknown as { bodies: { foot: { mass: number; centre: number[] } } }).bodies.foot
    expect(foot.mass).toBe(2.2)
    expect(foot.centre[1]).toBeNear(0.11, { relative: 1e-15 })
    expect(JSON.stringify(kept)).toBe(JSON.stringify(both)) // what was written is kept as it is
    expect(JSON.stringify(found).includes('= ')).toBe(false)
  })

  it('leave a document without formulas alone', () => {
    const plain = demo('boarding-ramp')
    const { document, resolved: found } = resolved(plain)
    expect(found).toBe(document)
  })

  it.each<[what: string, document: Document, where: string, words: RegExp]>([
    [
      'an unknown name',
      ramp({ footMas: parameter(1) }),
      'machines.ramp.bodies.foot.mass',
      /column 1: There is no parameter named footMass/,
    ],
    [
      'a circle',
      ramp({ footMass: parameter('= b'), b: parameter('= footMass') }),
      'parameters.footMass.value',
      /go round in a circle: footMass = b = footMass/,
    ],
    [
      'a division by zero',
      ramp({ footMass: parameter('= 1 / zero'), zero: parameter(0) }),
      'parameters.footMass.value',
      /no finite value/,
    ],
    ['a root of a negative number', ramp({ footMass: parameter('= sqrt(-1)') }), 'parameters.footMass.value', /no finite value/],
    ['a slip of the pen', ramp({ footMass: parameter('= 2 * (1 + ') }), 'parameters.footMass.value', /column/],
    [
      'a value outside its range',
      ramp({ footMass: parameter(5, { least: 1, most: 3 }) }),
      'parameters.footMass.value',
      /above its range/,
    ],
    [
      'a result that no body can have',
      ramp({ footMass: parameter('= -2') }),
      'machines.ramp.bodies.foot.mass',
      /below its limit of 0 kg/,
    ],
    [
      'a word without its sign',
      ramp({ footMass: parameter(1) }, undefined, 'footMass'),
      'machines.ramp.bodies.foot.mass',
      /plain number/,
    ],
  ])('with %s are explained where they are', (_what, document, where, words) => {
    const problem = problemsOf(document).find((one) => one.where === where)
    expect(problem?.what).toMatch(words)
    expect(problem?.remedy).not.toBe('')
  })

  it('name the nearest parameter', () => {
    const [problem] = problemsOf(ramp({ footMas: parameter(1) }))
    expect(problem!.remedy).toBe('Did you mean footMas?')
  })

  it('do not repeat one problem at every place that uses it', () => {
    const document = ramp({ footMass: parameter('= 1 / 0') })
    expect(problemsOf(replaceAt(document, 'machines.ramp.bodies.rod.mass', '= footMass'))).toHaveLength(1)
  })
})

describe('what counts as a formula', () => {
  it.each([
    ['= 2', true],
    ['  =a', true],
    ['2', false],
    [2, false],
    [undefined, false],
  ])('%s: %s', (value, yes) => expect(isFormula(value)).toBe(yes))
})

describe('another name for a parameter', () => {
  const document = {
    parameters: {
      arm: { kind: 'parameter', value: 2, unit: 'm' },
      armLong: { kind: 'parameter', value: '= 2 * arm', unit: 'm' },
    },
    note: 'arm is the arm',
    machines: { m: { length: '= arm + armLong / arm', list: ['= arm', 3, 'arm'] } },
  }

  it('goes into every formula and leaves all other words alone', () => {
    expect(renameParameter(document, 'arm', 'boom')).toEqual({
      parameters: { boom: document.parameters.arm, armLong: { kind: 'parameter', value: '= 2 * boom', unit: 'm' } },
      note: 'arm is the arm',
      machines: { m: { length: '= boom + armLong / boom', list: ['= boom', 3, 'arm'] } },
    })
  })

  it('and back again is what it was', () => {
    expect(renameParameter(renameParameter(document, 'armLong', 'x1'), 'x1', 'armLong')).toEqual(document)
  })
})
