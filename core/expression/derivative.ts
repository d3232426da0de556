import { add, atMost, div, isNode, less, mul, neg, primitive, select, sqrt, square, sub } from './graph'
import { cos, log, pow, sin } from './functions'
import type { Flag, Node, NumberNode, Scalar } from './graph'

/**
 * Exact partial derivatives of expressions with respect to one slot. At the switch of a select, limit or
 * absolute value it is the derivative of the branch taken; floor, tables and noise count as constant.
 */
export function derivatives(expressions: readonly Scalar[], slot: number): Scalar[] {
  return derivativesOf(numberNodes(expressions), expressions, slot)
}

/** jacobian[i][j] = derivative of expression i with respect to slots[j]. */
export function jacobian(expressions: readonly Scalar[], slots: readonly number[]): Scalar[][] {
  const nodes = numberNodes(expressions)
  const columns = slots.map((slot) => derivativesOf(nodes, expressions, slot))
  return expressions.map((_, i) => columns.map((column) => column[i]!))
}

function derivativesOf(nodes: readonly NumberNode[], expressions: readonly Scalar[], slot: number): Scalar[] {
  // only what depends on the slot is kept: most of a machine does not depend on any one state
  const known = new Map<Node, Scalar>()
  const of = (x: Scalar): Scalar => (typeof x === 'number' ? 0 : (known.get(x) ?? 0))
  for (const node of nodes) {
    const dependent =
      node.operation === 'slot' ? node.index === slot : node.operands.some((operand) => known.has(operand as Node))
    if (!dependent) continue
    const slope = local(node, of, slot)
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

function local(node: NumberNode, of: (x: Scalar) => Scalar, slot: number): Scalar {
  const [a, b] = node.operands as [Scalar, Scalar]
  switch (node.operation) {
    case 'slot':
      return node.index === slot ? 1 : 0
    case 'add':
      return add(of(a), of(b))
    case 'subtract':
      return sub(of(a), of(b))
    case 'multiply':
      return add(mul(of(a), b), mul(a, of(b)))
    case 'divide':
      return div(sub(of(a), mul(node, of(b))), b)
    case 'negate':
      return neg(of(a))
    case 'absolute':
      return select(less(a, 0), neg(of(a)), of(a))
    case 'copySign': // |a| with the sign of b
      return mul(select(less(a, 0), neg(of(a)), of(a)), primitive('copySign', 1, b))
    case 'squareRoot':
      return div(of(a), mul(2, node))
    case 'minimum':
      return select(atMost(a, b), of(a), of(b))
    case 'maximum':
      return select(atMost(b, a), of(a), of(b))
    case 'select':
      return select(node.operands[0] as Flag, of(node.operands[1] as Scalar), of(node.operands[2] as Scalar))
    case 'sin':
      return mul(of(a), cos(a))
    case 'cos':
      return neg(mul(of(a), sin(a)))
    case 'tan':
      return mul(of(a), add(1, square(node)))
    case 'asin':
      return div(of(a), sqrt(mul(sub(1, a), add(1, a))))
    case 'acos':
      return neg(div(of(a), sqrt(mul(sub(1, a), add(1, a)))))
    case 'atan':
      return div(of(a), add(1, square(a)))
    case 'atan2':
      return div(sub(mul(of(a), b), mul(a, of(b))), add(square(a), square(b)))
    case 'exp':
      return mul(of(a), node)
    case 'log':
      return div(of(a), a)
    case 'pow': {
      const byExponent = of(b) === 0 ? 0 : mul(of(b), mul(node, log(a)))
      return add(mul(of(a), mul(b, pow(a, sub(b, 1)))), byExponent)
    }
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
