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
  readonly operation:
    PrimitiveName | ElementaryName | 'slot' | 'argument' | 'select' | 'lookup' | 'uniform' | 'callIf' | 'both' | 'lane'
  /** Two numbers that are computed at once: made by `both`, read by `lane`. */
  readonly wide: boolean
  /** Slot or argument index, or which of two; for `lookup` how many places further on. */
  readonly index: number
  /** The thing meant by `lookup` and `callIf`. */
  readonly table?: Table
  readonly callee?: SubFunction
}

export interface FlagNode extends NodeBase {
  readonly sort: 'flag'
  readonly operation: ComparisonName | ConnectiveName
}

export type Node = NumberNode | FlagNode
export type Operand = Scalar | Flag

/** What is computed of two values at once. */
const ofBoth: ReadonlySet<NumberNode['operation']> = new Set([
  ...(['add', 'subtract', 'multiply', 'divide', 'negate', 'absolute', 'squareRoot'] as const),
  ...(['minimum', 'maximum', 'floor', 'nearest', 'select'] as const),
])

/** Constants read by index; an index outside reads the nearest end. */
export interface Table {
  readonly name: string
  readonly values: readonly number[] | Float64Array
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
  private readonly nodes = new NodeTable()

  /** A number read from memory when the program runs. `index` counts 8-byte slots. */
  slot(index: number): NumberNode {
    return this.number('slot', [], index)
  }

  /** The parameter of a sub-function. */
  argument(index: number): NumberNode {
    return this.number('argument', [], index)
  }

  number(operation: NumberNode['operation'], given: readonly Operand[], index = 0, extra?: Table | SubFunction): NumberNode {
    const mixed = operation !== 'both' && operation !== 'lane' && given.some(isWide)
    if (mixed && !ofBoth.has(operation)) throw new Error(`There is no ${operation} of two values at once.`)
    const operands = mixed ? given.map((operand) => this.twice(operand)) : given
    const hash = hashOf(operation, operands, index)
    const found = this.nodes.find(hash, operation, operands, index, extra)
    if (found !== undefined) return found as NumberNode
    const node: NumberNode = {
      sort: 'number',
      graph: this,
      id: this.nodes.size,
      operation,
      operands,
      index,
      wide: mixed || operation === 'both',
      ...(operation === 'lookup' ? { table: extra as Table } : undefined),
      ...(operation === 'callIf' ? { callee: extra as SubFunction } : undefined),
    }
    this.nodes.insert(hash, node)
    return node
  }

  flag(operation: FlagNode['operation'], operands: readonly Operand[]): FlagNode {
    if (operands.some(isWide)) throw new Error(`There is no ${operation} of two values at once.`)
    const hash = hashOf(operation, operands, 0)
    const found = this.nodes.find(hash, operation, operands, 0, undefined)
    if (found !== undefined) return found as FlagNode
    const node: FlagNode = { sort: 'flag', graph: this, id: this.nodes.size, operation, operands }
    this.nodes.insert(hash, node)
    return node
  }

  /** All nodes below operands, these too, in the order in which they were made. */
  below(operands: readonly Operand[]): readonly Node[] {
    const { inOrder } = this.nodes
    const isBelow = new Uint8Array(inOrder.length)
    for (const operand of operands) if (isNode(operand)) isBelow[operand.id] = 1
    for (let id = inOrder.length - 1; id >= 0; id--) {
      if (isBelow[id] === 0) continue
      for (const operand of inOrder[id]!.operands) if (isNode(operand)) isBelow[operand.id] = 1
    }
    const found: Node[] = []
    for (let id = 0; id < inOrder.length; id++) if (isBelow[id] === 1) found.push(inOrder[id]!)
    return found
  }

  /** A single value among wide ones stands for two alike; constants are doubled where they are printed. */
  private twice(operand: Operand): Operand {
    if (typeof operand !== 'object' || operand.sort === 'flag' || operand.wide) return operand
    return this.number('both', [operand, operand])
  }
}

/** An open-addressed table of nodes by hash: keys as text would cost more than everything else in building a graph. */
class NodeTable {
  /** By id. */
  readonly inOrder: Node[] = []
  private places: (Node | undefined)[] = new Array<Node | undefined>(1024).fill(undefined)
  private hashes = new Int32Array(1024)

  find(
    hash: number,
    operation: string,
    operands: readonly Operand[],
    index: number,
    extra: object | undefined,
  ): Node | undefined {
    const mask = this.places.length - 1
    for (let at = hash & mask; ; at = (at + 1) & mask) {
      const node = this.places[at]
      if (node === undefined) return undefined
      if (this.hashes[at] === hash && isSame(node, operation, operands, index, extra)) return node
    }
  }

  get size(): number {
    return this.inOrder.length
  }

  insert(hash: number, node: Node): void {
    if (2 * this.inOrder.push(node) > this.places.length) this.grow()
    this.place(hash, node)
  }

  private place(hash: number, node: Node): void {
    const mask = this.places.length - 1
    let at = hash & mask
    while (this.places[at] !== undefined) at = (at + 1) & mask
    this.places[at] = node
    this.hashes[at] = hash
  }

  private grow(): void {
    const { places, hashes } = this
    this.places = new Array<Node | undefined>(places.length * 2).fill(undefined)
    this.hashes = new Int32Array(places.length * 2)
    places.forEach((node, at) => {
      if (node !== undefined) this.place(hashes[at]!, node)
    })
  }
}

function isSame(node: Node, operation: string, operands: readonly Operand[], index: number, extra: object | undefined): boolean {
  if (node.operation !== operation || node.operands.length !== operands.length) return false
  if (node.sort === 'number' && (node.index !== index || (node.table ?? node.callee) !== extra)) return false
  for (let i = 0; i < operands.length; i++) if (!Object.is(node.operands[i], operands[i])) return false
  return true
}

const operationHashes = new Map<string, number>()

function hashOf(operation: string, operands: readonly Operand[], index: number): number {
  let hash = operationHashes.get(operation)
  if (hash === undefined) operationHashes.set(operation, (hash = Math.imul(operationHashes.size + 1, 0x9e3779b1)))
  hash = mixed(hash, index)
  for (const operand of operands) {
    if (typeof operand === 'object') hash = mixed(hash, operand.id)
    else if (typeof operand === 'number') hash = mixed(mixed(hash, lowBits(operand)), highBits())
    else hash = mixed(hash, operand ? 1 : 2)
  }
  return hash
}

const bitsOfDouble = new Float64Array(1)
const bits = new Int32Array(bitsOfDouble.buffer)

function lowBits(value: number): number {
  bitsOfDouble[0] = value
  return bits[0]!
}

/** Of the number that `lowBits` saw last. */
function highBits(): number {
  return bits[1]!
}

/** One round of MurmurHash3's mixing (Appleby, public domain; constants from memory). */
function mixed(hash: number, value: number): number {
  let k = Math.imul(value, 0xcc9e2d51)
  k = (k << 15) | (k >>> 17)
  const h = hash ^ Math.imul(k, 0x1b873593)
  return (Math.imul((h << 13) | (h >>> 19), 5) + 0xe6546b64) | 0
}

export function isNode(operand: Scalar): operand is NumberNode
export function isNode(operand: Operand): operand is Node
export function isNode(operand: Operand): operand is Node {
  return typeof operand === 'object'
}

/** All nodes below operands, these too, in the order in which they were made: operands first. */
export function nodesBelow(operands: readonly Operand[]): readonly Node[] {
  return graphOf(operands)?.below(operands) ?? []
}

/** Whether all slots that a value is computed from are of a sort; looks no further than the first that is not. */
export function everySlot(value: Scalar, isOfSort: (slot: number) => boolean): boolean {
  const seen = new Set<Node>()
  const pending: Operand[] = [value]
  while (pending.length > 0) {
    const node = pending.pop()!
    if (!isNode(node) || seen.has(node)) continue
    seen.add(node)
    if (node.operation === 'slot' && !isOfSort(node.index)) return false
    pending.push(...node.operands)
  }
  return true
}

/** The graph that any of the operands belongs to; none if all are plain values. */
export function graphOf(operands: readonly Operand[]): Graph | undefined {
  return operands.find((operand) => isNode(operand))?.graph
}

/** Whether a value is two in one. */
export function isWide(operand: Operand | undefined): operand is NumberNode {
  return typeof operand === 'object' && operand.sort === 'number' && operand.wide
}

/**
 * Two values in one: what is computed from it is computed for both at once, by vector instructions where there are some.
 * Alike constants are one number. Only arithmetic, limits and choices take such a value; slots store its lanes.
 */
export function both(graph: Graph, first: Scalar, second: Scalar): Scalar {
  if (isWide(first) || isWide(second)) throw new Error('Only single values go in pairs.')
  if (typeof first === 'number' && Object.is(first, second)) return first
  return graph.number('both', [first, second])
}

/** The first or second of two values in one; a single value stands for two alike. */
export function lane(value: Scalar, which: 0 | 1): Scalar {
  if (!isWide(value)) return value
  return value.operation === 'both' ? (value.operands[which] as Scalar) : value.graph.number('lane', [value], which)
}

/** The operation on numbers if all operands are numbers, else its node. No folding beyond that. */
export function primitive(name: PrimitiveName, a: Scalar, b?: Scalar): Scalar {
  if (typeof a === 'number' && typeof b !== 'object') return (primitives[name].fold as Fold)(a, b as number)
  const graph = typeof a === 'object' ? a.graph : (b as NumberNode).graph
  if ((isWide(a) || isWide(b)) && foldsByLane(a, b)) {
    const of = (which: 0 | 1) => operate(name, lane(a, which), b === undefined ? undefined : lane(b, which))
    return both(graph, of(0), of(1))
  }
  return graph.number(name, b === undefined ? [a] : [a, b])
}

/** Where a constant meets only values fresh from `both`, most of the work folds away in its lane. */
function foldsByLane(a: Scalar, b: Scalar | undefined): boolean {
  const given = [a, b].filter(isWide)
  return (
    given.every(({ operation }) => operation === 'both') &&
    given.some(({ operands }) => operands.some((operand) => typeof operand === 'number'))
  )
}

/** A primitive operation with all its folding. */
export function operate(name: PrimitiveName, a: Scalar, b?: Scalar): Scalar {
  switch (name) {
    case 'add':
      return add(a, b!)
    case 'subtract':
      return sub(a, b!)
    case 'multiply':
      return mul(a, b!)
    case 'divide':
      return div(a, b!)
    case 'negate':
      return neg(a)
    default:
      return primitive(name, a, b)
  }
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
  if (Object.is(then, otherwise)) return then
  return condition.graph.number('select', [condition, then, otherwise])
}

export function lookup(table: Table, index: Scalar): Scalar {
  if (typeof index !== 'number') return index.graph.number('lookup', [clamp(index, 0, table.values.length - 1)], 0, table)
  return table.values[Math.min(Math.max(Math.trunc(index), 0), table.values.length - 1)]!
}

/** The same, so many places further on, of an index that is known to lie inside: anything else may end the program. */
export function entry(table: Table, index: Scalar, offset = 0): Scalar {
  if (typeof index !== 'number') return index.graph.number('lookup', [index], offset, table)
  return table.values[Math.trunc(index) + offset]!
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
