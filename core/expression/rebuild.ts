import {
  entry,
  and,
  atMost,
  both,
  callIf,
  equal,
  graphOf,
  isNode,
  lane,
  less,
  not,
  operate,
  or,
  primitive,
  select,
  uniform,
} from './graph'
import { expansions } from './functions'
import type { Flag, Graph, Node, NumberNode, Operand, Scalar } from './graph'
import type { PrimitiveName } from './operations'

/**
 * Walks an expression bottom-up, once per node, and builds it anew with some leaves replaced. With numbers for all
 * leaves the result is a number: the plain evaluation that the printed programs are compared with.
 */
export class Rebuilder {
  private readonly done: Map<Node, Operand | Lanes>

  /**
   * `leaf` gives what stands for a slot or argument; `elementary` what becomes of sin, exp, ...; `given` what whole
   * sub-expressions are replaced by. Two values in one become two of their own unless they are `kept`.
   */
  constructor(
    private readonly leaf: (node: NumberNode) => Scalar,
    private readonly elementary: (node: NumberNode, operands: Scalar[]) => Scalar,
    given: ReadonlyMap<Node, Operand> = new Map(),
    private readonly pairs: 'split' | 'kept' = 'split',
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
      else this.done.set(node, this.finished(node))
    }
    return this.done.get(root) as Operand
  }

  private finished(node: Node): Operand | Lanes {
    const operands = node.operands.map((operand) => (isNode(operand) ? this.done.get(operand)! : operand))
    if (this.pairs === 'kept' || node.sort === 'flag') return this.rebuilt(node, operands as Operand[])
    if (node.operation === 'both') return new Lanes(operands as [Scalar, Scalar])
    if (node.operation === 'lane') return laneOf(operands[0]!, node.index)
    if (!node.wide) return this.rebuilt(node, operands as Operand[])
    const of = (which: number) => splitOperation(node, (i) => laneOf(operands[i], which))
    return new Lanes([of(0), of(1)])
  }

  private rebuilt(node: Node, operands: Operand[]): Operand {
    if (node.sort === 'number') {
      if (node.operation === 'slot' || node.operation === 'argument') return this.leaf(node)
      if (node.operation in expansions) return this.elementary(node, operands as Scalar[])
    }
    return folded(node, operands)
  }
}

/** What a node that is no leaf gives of other operands: a number where all are numbers. */
export function folded(node: Node, operands: Operand[]): Operand {
  if (node.sort === 'flag') return rebuiltFlag(node.operation, operands)
  const numbers = operands as Scalar[]
  switch (node.operation) {
    case 'select':
      return select(operands[0] as Flag, numbers[1]!, numbers[2]!)
    case 'lookup':
      return entry(node.table!, numbers[0]!, node.index)
    case 'uniform':
      return uniform(numbers[0]!, numbers[1]!, numbers[2]!)
    case 'callIf':
      return callIf(operands[0] as Flag, node.callee!, numbers.slice(2), numbers[1]!)
    case 'both':
      return both(node.graph, numbers[0]!, numbers[1]!)
    case 'lane':
      return lane(numbers[0]!, node.index as 0 | 1)
    default:
      if (node.operation in expansions) return expansions[node.operation as keyof typeof expansions](...numbers)
      return operate(node.operation as PrimitiveName, numbers[0]!, numbers[1])
  }
}

/** Two values in one, split. */
class Lanes {
  constructor(readonly values: readonly [Scalar, Scalar]) {}
}

/** One lane of an operation on both. Nothing folds that did not fold for both: the bits stay the same. */
function splitOperation({ operation }: NumberNode, operand: (i: number) => Operand | undefined): Scalar {
  if (operation === 'select') return select(operand(0) as Flag, operand(1) as Scalar, operand(2) as Scalar)
  return primitive(operation as PrimitiveName, operand(0) as Scalar, operand(1) as Scalar | undefined)
}

function laneOf<Plain extends Operand | undefined>(operand: Plain | Lanes, which: number): Plain | Scalar {
  return operand instanceof Lanes ? operand.values[which]! : operand
}

/** Expands elementary functions into primitive operations. */
export function lowering(pairs: 'split' | 'kept' = 'split'): Rebuilder {
  return new Rebuilder(
    (node) => node,
    (node, operands) => expansions[node.operation as keyof typeof expansions](...operands),
    new Map(),
    pairs,
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

/** Replaces nodes by other values of the same graph. */
export function replacement(graph: Graph, values: ReadonlyMap<Node, Operand>): Rebuilder {
  return new Rebuilder(
    (node) => node,
    (node, operands) => graph.number(node.operation, operands),
    values,
    'kept',
  )
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
