import type { Graph, NumberNode } from '../expression'

/** Gives out slots of a program's memory, one after the other. */
export class Layout {
  private used = 0

  constructor(readonly graph: Graph) {}

  get slots(): number {
    return this.used
  }

  reserve(count: number): number {
    this.used += count
    return this.used - count
  }

  one(): NumberNode {
    return this.graph.slot(this.reserve(1))
  }

  many(count: number): NumberNode[] {
    const first = this.reserve(count)
    return Array.from({ length: count }, (_, i) => this.graph.slot(first + i))
  }
}

/** A node's slot number. */
export function slotOf(node: NumberNode): number {
  return node.index
}
