import { isNode, isWide, nodesBelow } from './graph'
import type { Graph, Node, NumberNode, Scalar } from './graph'
import type { Assignment } from './procedure'
import { replacement } from './rebuild'

/**
 * Takes out of expressions what depends only on slots that stay constant during a run, so that it is computed once.
 * `allocate` gives a slot for each such value. Gives the values to compute first and the expressions that then
 * read them.
 */
export function hoistInvariants(
  graph: Graph,
  expressions: readonly Scalar[],
  isConstantSlot: (slot: number) => boolean,
  allocate: () => number,
): { first: Assignment[]; expressions: Scalar[] } {
  const constant = new Map<Node, boolean>()
  const nodes = nodesBelow(expressions)
  for (const node of nodes) {
    const fixed =
      node.operation === 'slot'
        ? isConstantSlot(node.index)
        : !isWide(node) && node.operands.every((operand) => !isNode(operand) || constant.get(operand)!)
    constant.set(node, fixed)
  }
  const worthASlot = (node: Node): node is NumberNode =>
    node.sort === 'number' && node.operation !== 'slot' && constant.get(node)!
  const homes = new Map<NumberNode, NumberNode>()
  const first: Assignment[] = []
  const hoist = (operand: unknown) => {
    const node = operand as Node
    if (!isNode(node) || !worthASlot(node) || homes.has(node)) return
    const slot = allocate()
    homes.set(node, graph.slot(slot))
    first.push({ slot, value: node })
  }
  for (const node of nodes) if (!constant.get(node)) node.operands.forEach(hoist)
  expressions.forEach(hoist)
  const rest = replacement(graph, homes)
  return { first, expressions: expressions.map((expression) => rest.number(expression)) }
}
