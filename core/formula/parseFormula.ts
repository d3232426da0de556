import { create, parseDependencies } from 'mathjs/number'
import {
  abs,
  acos,
  add,
  asin,
  atan,
  atan2,
  cos,
  div,
  exp,
  less,
  log,
  max,
  min,
  mul,
  neg,
  pow,
  select,
  sin,
  sqrt,
  sub,
  tan,
} from '../expression'
import type { Scalar } from '../expression'
import { nearestName } from '../document'
import { remembered } from '../document'

/** A formula that has been read: what it needs, and its value once that is known. */
export interface Formula {
  readonly names: readonly string[]
  /** As LaTeX, as it is written, with each name as `word` says. */
  readonly latex: (word: (name: string) => string) => string
  readonly value: (lookup: (name: string) => Scalar) => Scalar
}

export interface ParsedWrong {
  readonly kind: 'wrong'
  /** Counts from 1. */
  readonly column: number
  readonly what: string
  readonly remedy: string
}

export type ParsedFormula = { readonly kind: 'formula'; readonly formula: Formula } | ParsedWrong

/** Characters; a longer one belongs in parts with names of their own. */
const longestFormula = 2000

/** Levels of the tree: a sum of so many terms, or brackets inside one another. What reads it goes down a call for each. */
const deepestTree = 500

const { parse } = create(parseDependencies!)

const functions: Readonly<Record<string, { readonly takes: number; readonly of: (...args: Scalar[]) => Scalar }>> = {
  sin: { takes: 1, of: (x) => sin(x!) },
  cos: { takes: 1, of: (x) => cos(x!) },
  tan: { takes: 1, of: (x) => tan(x!) },
  asin: { takes: 1, of: (x) => asin(x!) },
  acos: { takes: 1, of: (x) => acos(x!) },
  atan: { takes: 1, of: (x) => atan(x!) },
  atan2: { takes: 2, of: (y, x) => atan2(y!, x!) },
  exp: { takes: 1, of: (x) => exp(x!) },
  log: { takes: 1, of: (x) => log(x!) },
  sqrt: { takes: 1, of: (x) => sqrt(x!) },
  abs: { takes: 1, of: (x) => abs(x!) },
  min: { takes: 2, of: (a, b) => min(a!, b!) },
  max: { takes: 2, of: (a, b) => max(a!, b!) },
  sign: { takes: 1, of: (x) => select(less(0, x!), 1, select(less(x!, 0), -1, 0)) },
  tanh: { takes: 1, of: (x) => tanh(x!) },
}

const operators: Readonly<Record<string, (a: Scalar, b: Scalar) => Scalar>> = {
  add,
  subtract: sub,
  multiply: mul,
  divide: div,
  pow,
}

/** From exp(-2|x|), which cannot overflow. */
function tanh(x: Scalar): Scalar {
  const fallen = exp(mul(-2, abs(x)))
  const size = div(sub(1, fallen), add(1, fallen))
  return select(less(x, 0), neg(size), size)
}

/** Names of the functions that a formula may use. */
export const formulaFunctions: readonly string[] = Object.keys(functions)

/**
 * Reads a formula in ordinary notation: + - * / ^, parentheses, names, pi, and the functions of `functions`, angles in
 * rad. A well-kept parser makes the tree; nothing of it is ever run as code, and whatever is not arithmetic is refused.
 */
export function parseFormula(text: string): ParsedFormula {
  return remembered(parsed, mostParsed, text, () => parsedAnew(text))
}

/** Every edit has all formulas of its document read. */
const parsed = new Map<string, ParsedFormula>()
const mostParsed = 2000

function parsedAnew(text: string): ParsedFormula {
  const read = readTree(text)
  if (read.kind === 'wrong') return read
  const { tree, check } = read
  const names = new Set<string>()
  const bad = check(tree, names)
  if (bad !== undefined) return bad
  return {
    kind: 'formula',
    formula: { names: [...names], value: (lookup) => valueOf(tree, lookup), latex: (word) => latexOf(tree, word) },
  }
}

interface ReadTree {
  readonly kind: 'tree'
  readonly tree: FormulaTree
  /** What of a part of the tree is no arithmetic; adds the names that it uses. */
  readonly check: (tree: FormulaTree, names: Set<string>) => ParsedWrong | undefined
}

/** The tree of a text, not yet judged. */
export function readTree(text: string): ReadTree | ParsedWrong {
  if (text.length > longestFormula)
    return wrong(
      1,
      `The formula has ${text.length} characters; at most ${longestFormula} are read.`,
      'Give parts of it names of their own.',
    )
  try {
    const tree = parse(text)
    if (depthOf(tree) > deepestTree) return tooDeep()
    return { kind: 'tree', tree, check: (one, names) => firstBad(one, names, text) }
  } catch (error) {
    if (error instanceof RangeError) return tooDeep() // the parser ran out of calls
    const { char, message } = error as { char?: number; message: string }
    return wrong(char ?? 1, message.replace(/ \(char \d+\)$/, '.'), 'Correct the formula at the place marked.')
  }
}

function tooDeep(): ParsedWrong {
  return wrong(1, 'The formula is nested too deeply to be read.', 'Give parts of it names of their own.')
}

/** Levels of the tree; a sum of n terms has n. Walked with a stack of its own. */
function depthOf(tree: FormulaTree): number {
  const stack: [FormulaTree, number][] = [[tree, 1]]
  let deepest = 0
  while (stack.length > 0) {
    const [node, depth] = stack.pop()!
    deepest = Math.max(deepest, depth)
    for (const inner of [...(node.args ?? []), node.content, node.object]) if (inner !== undefined) stack.push([inner, depth + 1])
  }
  return deepest
}

/** What a formula says of names that are not known, with the nearest known one. */
export function unknownName(text: string, name: string, known: readonly string[], sort = 'parameter'): ParsedWrong {
  const near = nearestName(name, known)
  const remedy = near === undefined ? `Known names: ${known.slice(0, 12).join(', ') || 'none yet'}.` : `Did you mean ${near}?`
  return wrong(columnOf(text, name), `There is no ${sort} named ${name}.`, remedy)
}

/** The parser's nodes, as far as they are used. */
export interface FormulaTree {
  readonly type: string
  readonly name?: string
  readonly value?: unknown
  readonly fn?: string | { readonly name: string }
  readonly implicit?: boolean
  readonly args?: readonly FormulaTree[]
  readonly content?: FormulaTree
  readonly object?: FormulaTree
  readonly index?: { readonly dimensions: readonly FormulaTree[]; readonly dotNotation: boolean }
}

function firstBad(tree: FormulaTree, names: Set<string>, text: string): ParsedWrong | undefined {
  const inside = (of: readonly FormulaTree[]) => of.map((one) => firstBad(one, names, text)).find((one) => one !== undefined)
  switch (tree.type) {
    case 'ConstantNode':
      return typeof tree.value === 'number' && Number.isFinite(tree.value)
        ? undefined
        : wrong(columnOf(text, String(tree.value)), `${String(tree.value)} is not a finite number.`, 'Write plain numbers.')
    case 'SymbolNode':
      if (tree.name !== 'pi') names.add(tree.name!)
      return undefined
    case 'AccessorNode':
      names.add(dottedName(tree))
      return dottedName(tree) === ''
        ? wrong(1, 'Only names can stand around a dot.', 'Write body.angle, for example.')
        : undefined
    case 'ParenthesisNode':
      return inside([tree.content!])
    case 'OperatorNode': {
      const name = tree.fn as string
      if (tree.implicit === true)
        return wrong(
          columnOf(text, nameIn(tree)),
          'Two things stand side by side without a sign between them.',
          'Write * for a product; units do not belong into formulas.',
        )
      if (name === 'unaryMinus' || name === 'unaryPlus' || Object.hasOwn(operators, name)) return inside(tree.args!)
      return wrong(1, `${name} is not arithmetic.`, 'Use + - * / ^ and functions.')
    }
    case 'FunctionNode': {
      const name = functionName(tree)
      const known = Object.hasOwn(functions, name) ? functions[name] : undefined
      if (known === undefined) {
        const near = nearestName(name, Object.keys(functions))
        const remedy = near === undefined ? `Known: ${Object.keys(functions).join(', ')}.` : `Did you mean ${near}?`
        return wrong(columnOf(text, name), `There is no function named ${name}.`, remedy)
      }
      if (tree.args!.length !== known.takes)
        return wrong(
          columnOf(text, name),
          `${name} takes ${known.takes} of them, not ${tree.args!.length}.`,
          `Write ${name}(${known.takes === 1 ? 'x' : 'x, y'}).`,
        )
      return inside(tree.args!)
    }
    default:
      return wrong(1, 'Only arithmetic can stand in a formula.', 'Use numbers, names, + - * / ^ and functions.')
  }
}

/** The value of a tree that was judged. */
export function valueOf(tree: FormulaTree, lookup: (name: string) => Scalar): Scalar {
  const of = (one: FormulaTree) => valueOf(one, lookup)
  switch (tree.type) {
    case 'ConstantNode':
      return tree.value as number
    case 'SymbolNode':
      return tree.name === 'pi' ? Math.PI : lookup(tree.name!)
    case 'AccessorNode':
      return lookup(dottedName(tree))
    case 'ParenthesisNode':
      return of(tree.content!)
    case 'OperatorNode': {
      const [a, b] = tree.args!.map(of)
      if (tree.fn === 'unaryMinus') return neg(a!)
      return tree.fn === 'unaryPlus' ? a! : operators[tree.fn as string]!(a!, b!)
    }
    default:
      return functions[functionName(tree)]!.of(...tree.args!.map(of))
  }
}

/** How strongly an operator binds; higher binds more. */
const binding: Readonly<Record<string, number>> = {
  add: 1,
  subtract: 1,
  multiply: 2,
  divide: 2,
  unaryMinus: 3,
  unaryPlus: 3,
  pow: 4,
}

function latexOf(tree: FormulaTree, word: (name: string) => string): string {
  const of = (one: FormulaTree): string => latexOf(one, word)
  const inner = (one: FormulaTree): FormulaTree => (one.type === 'ParenthesisNode' ? inner(one.content!) : one)
  /** With brackets where it binds less than wanted. */
  const bound = (one: FormulaTree, least: number): string => {
    const bare = inner(one)
    const own = bare.type === 'OperatorNode' && bare.fn !== 'divide' ? binding[bare.fn as string]! : 9
    return own < least ? `\\left(${of(bare)}\\right)` : of(bare)
  }
  switch (tree.type) {
    case 'ConstantNode':
      return String(tree.value)
    case 'SymbolNode':
      return tree.name === 'pi' ? '\\pi' : word(tree.name!)
    case 'AccessorNode':
      return word(dottedName(tree))
    case 'ParenthesisNode':
      return of(inner(tree))
    case 'OperatorNode': {
      const [a, b] = tree.args as [FormulaTree, FormulaTree]
      switch (tree.fn as string) {
        case 'unaryMinus':
          return `-${bound(a, 2)}`
        case 'unaryPlus':
          return of(a)
        case 'divide':
          return `\\frac{${of(inner(a))}}{${of(inner(b))}}`
        case 'pow':
          return `${bound(a, 5)}^{${of(inner(b))}}`
        case 'multiply':
          return `${bound(a, 2)}\\,${bound(b, 3)}`
        case 'subtract':
          return `${bound(a, 1)} - ${bound(b, 2)}`
        default:
          return `${bound(a, 1)} + ${bound(b, 1)}`
      }
    }
    default: {
      const name = functionName(tree)
      const args = tree.args!.map((one) => of(inner(one)))
      if (name === 'sqrt') return `\\sqrt{${args[0]!}}`
      if (name === 'abs') return `\\left|${args[0]!}\\right|`
      if (name === 'exp') return `e^{${args[0]!}}`
      const words = { asin: 'arcsin', acos: 'arccos', atan: 'arctan', log: 'ln' }[name] ?? name
      const known = ['sin', 'cos', 'tan', 'arcsin', 'arccos', 'arctan', 'ln', 'min', 'max', 'tanh'].includes(words)
      return `${known ? `\\${words}` : `\\operatorname{${words}}`}\\left(${args.join(', ')}\\right)`
    }
  }
}

function functionName({ fn, name }: FormulaTree): string {
  return name ?? (typeof fn === 'object' ? fn.name : (fn ?? ''))
}

/** `boom.angle`, also deeper; empty where something else stands around the dot. */
function dottedName({ type, name, object, index }: FormulaTree): string {
  if (type === 'SymbolNode') return name!
  if (type !== 'AccessorNode' || index?.dotNotation !== true) return ''
  const before = dottedName(object!)
  return before === '' ? '' : `${before}.${String(index.dimensions[0]!.value)}`
}

/** A name somewhere below, to point at. */
function nameIn(tree: FormulaTree): string {
  return tree.name ?? tree.args?.map(nameIn).find((one) => one !== '') ?? ''
}

function columnOf(text: string, word: string): number {
  const at = word === '' ? -1 : text.search(new RegExp(`(?<![A-Za-z0-9_])${word.replace(/[^A-Za-z0-9_]/g, '\\$&')}`))
  return at < 0 ? 1 : at + 1
}

function wrong(column: number, what: string, remedy: string): ParsedWrong {
  return { kind: 'wrong', column, what, remedy }
}
