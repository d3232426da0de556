import { comparisons, primitives, uniformNumber } from './operations'
import type { ComparisonName, ConnectiveName, PrimitiveName } from './operations'

/** A number that is known now, or one that will be computed from memory when the program runs. */
export type Scalar = number | NumberNode
/** The same for a truth. */
export type Flag = boolean | FlagNode

export type ElementaryName = 'sin' | 'cos' | 'tan' | 'asin' | 'acos' | 'atan' | 'atan2' | 'exp' | 'log' | 'pow'

interface NodeBase {
  readonly graph: Graph
  /** Order of creation: operands always have smaller ids. */
  readonly id: number
  readonly operands: readonly Operand[]
}

export interface NumberNode extends NodeBase {
  readonly sort: 'number'
  readonly operation: PrimitiveName | ElementaryName | 'slot' | 'argument' | 'select' | 'lookup' | 'uniform' | 'callIf'
  /** Slot or argument index; for `lookup` and `callIf` the thing meant. */
  readonly index: number
  readonly table?: Table
  readonly callee?: SubFunction
}

export interface FlagNode extends NodeBase {
  readonly sort: 'flag'
  readonly operation: ComparisonName | ConnectiveName
}

export type Node = NumberNode | FlagNode
export type Operand = Scalar | Flag

/** Constants read by index; an index outside reads the nearest end. */
export interface Table {
  readonly name: string
  readonly values: readonly number[]
}

/** A function of numbers that stays a function when printed, so that it can be skipped when it is not needed. */
export interface SubFunction {
  readonly name: string
  readonly arity: number
  readonly body: (...args: Scalar[]) => Scalar
}

/**
 * Holds the nodes of one program: equal expressions are one node (hash-consing). Nodes are immutable.
 * Expressions of different graphs must not be mixed.
 */
export class Graph {
  private readonly known = new Map<string, Node>()
  private readonly details = new Map<object, number>()

  /** A number read from memory when the program runs. `index` counts 8-byte slots. */
  slot(index: number): NumberNode {
    return this.number('slot', [], index)
  }

  /** The parameter of a sub-function. */
  argument(index: number): NumberNode {
    return this.number('argument', [], index)
  }

  number(operation: NumberNode['operation'], operands: readonly Operand[], index = 0, extra?: Table | SubFunction): NumberNode {
    const key = `${operation}:${index}:${extra === undefined ? '' : this.detail(extra)}:${keyOf(operands)}`
    const table = operation === 'lookup' ? { table: extra as Table } : {}
    const callee = operation === 'callIf' ? { callee: extra as SubFunction } : {}
    return this.intern(key, (id) => ({
      sort: 'number',
      graph: this,
      id,
      operation,
      operands,
      index,
      ...table,
      ...callee,
    })) as NumberNode
  }

  flag(operation: FlagNode['operation'], operands: readonly Operand[]): FlagNode {
    const key = `${operation}:${keyOf(operands)}`
    return this.intern(key, (id) => ({ sort: 'flag', graph: this, id, operation, operands })) as FlagNode
  }

  private intern(key: string, create: (id: number) => Node): Node {
    const found = this.known.get(key)
    if (found !== undefined) return found
    const node = create(this.known.size)
    this.known.set(key, node)
    return node
  }

  private detail(extra: object): number {
    const found = this.details.get(extra)
    if (found !== undefined) return found
    this.details.set(extra, this.details.size)
    return this.details.size - 1
  }
}

export function isNode(operand: Scalar): operand is NumberNode
export function isNode(operand: Operand): operand is Node
export function isNode(operand: Operand): operand is Node {
  return typeof operand === 'object'
}

/** The graph that any of the operands belongs to; none if all are plain values. */
export function graphOf(operands: readonly Operand[]): Graph | undefined {
  return operands.find((operand) => isNode(operand))?.graph
}

/** The operation on numbers if all operands are numbers, else its node. No folding beyond that. */
export function primitive(name: PrimitiveName, a: Scalar, b?: Scalar): Scalar {
  if (typeof a === 'number' && typeof b !== 'object') return (primitives[name].fold as Fold)(a, b as number)
  const graph = typeof a === 'object' ? a.graph : (b as NumberNode).graph
  return graph.number(name, b === undefined ? [a] : [a, b])
}

type Fold = (a: number, b: number) => number

export function add(a: number, b: number): number
export function add(a: Scalar, b: Scalar): Scalar
export function add(a: Scalar, b: Scalar): Scalar {
  if (typeof a === 'number' && typeof b === 'number') return a + b
  if (isZero(a)) return b
  if (isZero(b)) return a
  if (isNode(b) && b.operation === 'negate') return sub(a, b.operands[0] as Scalar)
  const [first, second] = inOrder(a, b)
  return primitive('add', first, second)
}

export function sub(a: number, b: number): number
export function sub(a: Scalar, b: Scalar): Scalar
export function sub(a: Scalar, b: Scalar): Scalar {
  if (typeof a === 'number' && typeof b === 'number') return a - b
  if (isZero(b)) return a
  if (isZero(a)) return neg(b)
  if (isNode(b) && b.operation === 'negate') return add(a, b.operands[0] as Scalar)
  return primitive('subtract', a, b)
}

/** A product with 0 folds to 0: what would have been NaN or infinite there is lost (see docs/concepts.md). */
export function mul(a: number, b: number): number
export function mul(a: Scalar, b: Scalar): Scalar
export function mul(a: Scalar, b: Scalar): Scalar {
  if (typeof a === 'number' && typeof b === 'number') return a * b
  if (isZero(a) || isZero(b)) return 0
  if (a === 1) return b
  if (b === 1) return a
  if (a === -1) return neg(b)
  if (b === -1) return neg(a)
  const [first, second] = inOrder(a, b)
  return primitive('multiply', first, second)
}

export function div(a: number, b: number): number
export function div(a: Scalar, b: Scalar): Scalar
export function div(a: Scalar, b: Scalar): Scalar {
  if (typeof a === 'number' && typeof b === 'number') return a / b
  if (b === 1) return a
  if (isZero(a) && isNode(b)) return 0
  return primitive('divide', a, b)
}

export function neg(a: number): number
export function neg(a: Scalar): Scalar
export function neg(a: Scalar): Scalar {
  if (typeof a === 'number') return -a
  if (isNode(a) && a.operation === 'negate') return a.operands[0] as Scalar
  return primitive('negate', a)
}

export function sqrt(a: number): number
export function sqrt(a: Scalar): Scalar
export function sqrt(a: Scalar): Scalar {
  return primitive('squareRoot', a)
}

export function abs(a: number): number
export function abs(a: Scalar): Scalar
export function abs(a: Scalar): Scalar {
  return primitive('absolute', a)
}

export function min(a: Scalar, b: Scalar): Scalar {
  return a === b ? a : primitive('minimum', a, b)
}

export function max(a: Scalar, b: Scalar): Scalar {
  return a === b ? a : primitive('maximum', a, b)
}

/** `value` held between `least` and `most`. */
export function clamp(value: Scalar, least: Scalar, most: Scalar): Scalar {
  return min(max(value, least), most)
}

export function floor(a: Scalar): Scalar {
  return primitive('floor', a)
}

export function square(a: number): number
export function square(a: Scalar): Scalar
export function square(a: Scalar): Scalar {
  return mul(a, a)
}

export function sum(terms: readonly Scalar[]): Scalar {
  return terms.reduce<Scalar>((total, term) => add(total, term), 0)
}

export function less(a: Scalar, b: Scalar): Flag {
  return compare('less', a, b)
}

export function atMost(a: Scalar, b: Scalar): Flag {
  return compare('atMost', a, b)
}

export function equal(a: Scalar, b: Scalar): Flag {
  return compare('equal', a, b)
}

export function and(a: Flag, b: Flag): Flag {
  if (typeof a === 'boolean') return a ? b : false
  if (typeof b === 'boolean') return b ? a : false
  return a.graph.flag('and', [a, b])
}

export function or(a: Flag, b: Flag): Flag {
  if (typeof a === 'boolean') return a ? true : b
  if (typeof b === 'boolean') return b ? true : a
  return a.graph.flag('or', [a, b])
}

export function not(a: Flag): Flag {
  return typeof a === 'boolean' ? !a : a.graph.flag('not', [a])
}

/** Both arms are evaluated; only one is given. */
export function select(condition: Flag, then: Scalar, otherwise: Scalar): Scalar {
  if (typeof condition === 'boolean') return condition ? then : otherwise
  if (then === otherwise) return then
  return condition.graph.number('select', [condition, then, otherwise])
}

export function lookup(table: Table, index: Scalar): Scalar {
  if (typeof index !== 'number') return index.graph.number('lookup', [clamp(index, 0, table.values.length - 1)], 0, table)
  return table.values[Math.min(Math.max(Math.trunc(index), 0), table.values.length - 1)]!
}

/** Uniform in (0, 1), fixed by seed, stream and counter (see `uniformNumber`). */
export function uniform(seed: Scalar, stream: Scalar, counter: Scalar): Scalar {
  const graph = graphOf([seed, stream, counter])
  if (graph === undefined) return uniformNumber(seed as number, stream as number, counter as number)
  return graph.number('uniform', [seed, stream, counter])
}

/** `callee(...args)` where the condition holds, else `otherwise`; the call is made only when needed. */
export function callIf(condition: Flag, callee: SubFunction, args: readonly Scalar[], otherwise: Scalar): Scalar {
  if (typeof condition === 'boolean') return condition ? callee.body(...args) : otherwise
  return condition.graph.number('callIf', [condition, otherwise, ...args], 0, callee)
}

function compare(name: ComparisonName, a: Scalar, b: Scalar): Flag {
  if (typeof a === 'number' && typeof b === 'number') return comparisons[name].fold(a, b)
  const graph = typeof a === 'object' ? a.graph : (b as NumberNode).graph
  return graph.flag(name, [a, b])
}

/** Addition and multiplication commute exactly, so a fixed order lets a + b and b + a be one node. */
function inOrder(a: Scalar, b: Scalar): [Scalar, Scalar] {
  const rank = (x: Scalar) => (typeof x === 'number' ? -1 : x.id)
  return rank(a) <= rank(b) ? [a, b] : [b, a]
}

function isZero(a: Scalar): boolean {
  return a === 0
}

function keyOf(operands: readonly Operand[]): string {
  let key = ''
  for (const operand of operands) key += `${operandKey(operand)},`
  return key
}

function operandKey(operand: Operand): string {
  if (isNode(operand)) return `#${operand.id}`
  return Object.is(operand, -0) ? '-0' : String(operand)
}
