import { and, callIf, equal, graphOf, isNode, less, lookup, atMost, not, or, primitive, select, uniform } from './graph'
import { add, div, mul, neg, sub } from './graph'
import { expansions } from './functions'
import type { Flag, Node, NumberNode, Operand, Scalar } from './graph'
import type { PrimitiveName } from './operations'

/**
 * Walks an expression bottom-up, once per node, and builds it anew with some leaves replaced. With numbers for all
 * leaves the result is a number: the plain evaluation that the printed programs are compared with.
 */
export class Rebuilder {
  private readonly done: Map<Node, Operand>

  /**
   * `leaf` gives what stands for a slot or argument; `elementary` what becomes of sin, exp, ...; `given` what whole
   * sub-expressions are replaced by.
   */
  constructor(
    private readonly leaf: (node: NumberNode) => Scalar,
    private readonly elementary: (node: NumberNode, operands: Scalar[]) => Scalar,
    given: ReadonlyMap<Node, Operand> = new Map(),
  ) {
    this.done = new Map(given)
  }

  number(expression: Scalar): Scalar {
    return this.visit(expression) as Scalar
  }

  flag(expression: Flag): Flag {
    return this.visit(expression) as Flag
  }

  private visit(root: Operand): Operand {
    if (!isNode(root)) return root
    // an explicit stack: large machines make graphs deeper than the call stack
    const pending: Node[] = [root]
    while (pending.length > 0) {
      const node = pending[pending.length - 1]!
      if (this.done.has(node)) {
        pending.pop()
        continue
      }
      const missing = node.operands.filter((operand): operand is Node => isNode(operand) && !this.done.has(operand))
      if (missing.length > 0) pending.push(...missing)
      else this.done.set(node, this.rebuilt(node))
    }
    return this.done.get(root)!
  }

  private rebuilt(node: Node): Operand {
    const operands = node.operands.map((operand) => (isNode(operand) ? this.done.get(operand)! : operand))
    if (node.sort === 'flag') return rebuiltFlag(node.operation, operands)
    const numbers = operands as Scalar[]
    switch (node.operation) {
      case 'slot':
      case 'argument':
        return this.leaf(node)
      case 'select':
        return select(operands[0] as Flag, numbers[1]!, numbers[2]!)
      case 'lookup':
        return lookup(node.table!, numbers[0]!)
      case 'uniform':
        return uniform(numbers[0]!, numbers[1]!, numbers[2]!)
      case 'callIf':
        return callIf(operands[0] as Flag, node.callee!, numbers.slice(2), numbers[1]!)
      default:
        if (node.operation in expansions) return this.elementary(node, numbers)
        return rebuiltPrimitive(node.operation as PrimitiveName, numbers)
    }
  }
}

/** Expands elementary functions into primitive operations. */
export function lowering(): Rebuilder {
  return new Rebuilder(
    (node) => node,
    (node, operands) => expansions[node.operation as keyof typeof expansions](...operands),
  )
}

/** The value of an expression where `slots[i]` stands for slot i. */
export function evaluate(expression: Scalar, slots: ArrayLike<number>): number {
  return evaluation(slots).number(expression) as number
}

/** An evaluator of several expressions that share work. */
export function evaluation(slots: ArrayLike<number>): Rebuilder {
  return new Rebuilder(
    (node) => slots[node.index]!,
    (node, operands) => expansions[node.operation as keyof typeof expansions](...operands),
  )
}

/** Replaces slots by expressions of another graph, or by numbers; what is not given stays away from the result. */
export function substitution(leaf: (slot: number) => Scalar): Rebuilder {
  return new Rebuilder(
    (node) => leaf(node.index),
    (node, operands) => {
      const graph = graphOf(operands)
      const expand = expansions[node.operation as keyof typeof expansions]
      return graph === undefined ? expand(...operands) : graph.number(node.operation, operands)
    },
  )
}

function rebuiltPrimitive(name: PrimitiveName, operands: Scalar[]): Scalar {
  const [a, b] = operands as [Scalar, Scalar]
  switch (name) {
    case 'add':
      return add(a, b)
    case 'subtract':
      return sub(a, b)
    case 'multiply':
      return mul(a, b)
    case 'divide':
      return div(a, b)
    case 'negate':
      return neg(a)
    default:
      return primitive(name, a, operands[1])
  }
}

function rebuiltFlag(operation: string, operands: Operand[]): Flag {
  const [a, b] = operands
  switch (operation) {
    case 'less':
      return less(a as Scalar, b as Scalar)
    case 'atMost':
      return atMost(a as Scalar, b as Scalar)
    case 'equal':
      return equal(a as Scalar, b as Scalar)
    case 'and':
      return and(a as Flag, b as Flag)
    case 'or':
      return or(a as Flag, b as Flag)
    default:
      return not(a as Flag)
  }
}
