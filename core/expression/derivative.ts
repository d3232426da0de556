import { add, atMost, both, div, isNode, lane, less, max, mul, neg, primitive, select, sqrt, square, sub } from './graph'
import { cos, log, pow, sin } from './functions'
import type { Flag, Graph, Node, NumberNode, Operand, Scalar } from './graph'

/**
 * Exact partial derivatives of expressions with respect to one slot. At the switch of a select, limit or
 * absolute value it is the derivative of the branch taken; floor, tables and noise count as constant.
 */
export function derivatives(expressions: readonly Scalar[], slot: number): Scalar[] {
  return derivativesOf(numberNodes(expressions), expressions, new Map([[slot, 1]]))
}

/** jacobian[i][j] = derivative of expression i with respect to slots[j]. */
export function jacobian(expressions: readonly Scalar[], slots: readonly number[]): Scalar[][] {
  const nodes = numberNodes(expressions)
  const columns = slots.map((slot) => derivativesOf(nodes, expressions, new Map([[slot, 1]])))
  return transposed(expressions, columns)
}

/**
 * The same matrix, two of its columns at a time: entry [i][j] holds, as `both`, the derivatives of expression i with
 * respect to the two slots of pair j. Pairs whose columns are alike, such as an angle and its speed, gain most.
 */
export function pairedJacobian(
  graph: Graph,
  expressions: readonly Scalar[],
  pairs: readonly (readonly [number, number])[],
): Scalar[][] {
  const nodes = numberNodes(expressions)
  const columns = pairs.map(([first, second]) => {
    const seeds = new Map([
      [first, both(graph, 1, 0)],
      [second, both(graph, 0, 1)],
    ])
    return derivativesOf(nodes, expressions, seeds)
  })
  return transposed(expressions, columns)
}

function transposed(expressions: readonly Scalar[], columns: readonly (readonly Scalar[])[]): Scalar[][] {
  return expressions.map((_, i) => columns.map((column) => column[i]!))
}

/** The slope of a node by one of its operands at a point, where `valueOf` gives the number or truth of an operand. */
export function localSlope(node: NumberNode, at: number, valueOf: (x: Operand) => Operand): number {
  // an operand that stands in two places has the whole slope in its first
  const operand = node.operands[at]
  if (node.operands.indexOf(operand!) < at) return 0
  return local(node, (x) => (x === operand ? 1 : 0), valueOf) as number
}

/** Slopes of expressions along a direction: `seeds` gives those of the slots that vary. */
export function slopesAlong(expressions: readonly Scalar[], seeds: ReadonlyMap<number, Scalar>): Scalar[] {
  return derivativesOf(numberNodes(expressions), expressions, seeds)
}

function derivativesOf(
  nodes: readonly NumberNode[],
  expressions: readonly Scalar[],
  seeds: ReadonlyMap<number, Scalar>,
): Scalar[] {
  // only what depends on a seed is kept: most of a machine does not depend on any one state
  const known = new Map<Node, Scalar>()
  const of = (x: Scalar): Scalar => (typeof x === 'number' ? 0 : (known.get(x) ?? 0))
  const itself = (x: Operand) => x
  for (const node of nodes) {
    const dependent = node.operands.some((operand) => known.has(operand as Node))
    const slope = node.operation === 'slot' ? (seeds.get(node.index) ?? 0) : dependent ? local(node, of, itself) : 0
    if (slope !== 0) known.set(node, slope)
  }
  return expressions.map(of)
}

/** Number nodes below the expressions, operands first. */
function numberNodes(expressions: readonly Scalar[]): NumberNode[] {
  const seen = new Set<NumberNode>()
  const pending: unknown[] = [...expressions]
  while (pending.length > 0) {
    const next = pending.pop() as Scalar | Flag
    if (!isNode(next) || next.sort === 'flag' || seen.has(next)) continue
    seen.add(next)
    pending.push(...next.operands)
  }
  return [...seen].sort((a, b) => a.id - b.id)
}

/** Below, a root is 0. */
const leastRoot = 1e-150

/**
 * The chain rule for one operation: `of` gives the slopes of its operands, `valueOf` what stands for an operand in the
 * result: itself, or its number.
 */
function local(node: NumberNode, of: (x: Scalar) => Scalar, valueOf: (x: Operand) => Operand): Scalar {
  const [first, second] = node.operands as [Scalar, Scalar]
  const [da, db] = [first, second].map((x) => (x === undefined ? 0 : of(x))) as [Scalar, Scalar]
  const [a, b] = node.operands.map(valueOf) as [Scalar, Scalar]
  const value = () => valueOf(node) as Scalar
  switch (node.operation) {
    case 'add':
      return add(da, db)
    case 'subtract':
      return sub(da, db)
    case 'multiply':
      return add(mul(da, b), mul(a, db))
    case 'divide':
      return div(sub(da, mul(value(), db)), b)
    case 'negate':
      return neg(da)
    case 'absolute':
      return select(less(a, 0), neg(da), da)
    case 'copySign': // |a| with the sign of b
      return mul(select(less(a, 0), neg(da), da), primitive('copySign', 1, b))
    case 'squareRoot':
      // the length of a vector that is 0 turns nowhere: its square has the slope 0 there, and 0/0 is no answer
      return div(da, max(mul(2, value()), leastRoot))
    case 'minimum':
      return select(atMost(a, b), da, db)
    case 'maximum':
      return select(atMost(b, a), da, db)
    case 'select':
      return select(valueOf(node.operands[0]!) as Flag, db, of(node.operands[2] as Scalar))
    case 'sin':
      return mul(da, cos(a))
    case 'cos':
      return neg(mul(da, sin(a)))
    case 'tan':
      return mul(da, add(1, square(value())))
    case 'asin':
      return div(da, sqrt(mul(sub(1, a), add(1, a))))
    case 'acos':
      return neg(div(da, sqrt(mul(sub(1, a), add(1, a)))))
    case 'atan':
      return div(da, add(1, square(a)))
    case 'atan2':
      return div(sub(mul(da, b), mul(a, db)), add(square(a), square(b)))
    case 'exp':
      return mul(da, value())
    case 'log':
      return div(da, a)
    case 'pow': {
      const byExponent = db === 0 ? 0 : mul(db, mul(value(), log(a)))
      return add(mul(da, mul(b, pow(a, sub(b, 1)))), byExponent)
    }
    case 'both':
      return both(node.graph, da, db)
    case 'lane':
      return lane(da, node.index as 0 | 1)
    case 'slot':
    case 'floor':
    case 'nearest':
    case 'exponent':
    case 'significand':
    case 'powerOfTwo':
    case 'highPart':
    case 'lookup':
    case 'uniform':
    case 'callIf':
    case 'argument':
      return 0
  }
}
