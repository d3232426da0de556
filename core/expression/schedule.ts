import { isNode, isWide } from './graph'
import type { Node, Operand } from './graph'

/** Named values a function may hold: beyond this V8's optimizer slows down, and one large function is slower than several. */
const namesPerChunk = 200

export interface Root {
  readonly value: Operand
  /** Slot to store to, or nothing for a result left on the stack. */
  readonly slot?: number
}

export type Item = ({ readonly does: 'name'; readonly node: Node } | { readonly does: 'finish'; readonly root: Root }) & {
  /** Names read by printing this item; a name itself counts as read where it is nested in another. */
  readonly reads: ReadonlySet<Node>
}

/**
 * The order in which a block of values is computed. A value used once is nested where it is used; one used more
 * often gets a name, just before the first root that needs it. Long blocks are cut into chunks.
 */
export interface Schedule {
  readonly chunks: readonly (readonly Item[])[]
  readonly named: ReadonlySet<Node>
  /** Named nodes that a later chunk reads. Plain slots are read again instead, unless this block stores to them. */
  readonly crossing: readonly Node[]
}

/** `roots` must be lowered (primitive operations only). */
export function schedule(roots: readonly Root[]): Schedule {
  const stored = new Set(
    roots.flatMap(({ slot, value }) => (slot === undefined ? [] : isWide(value) ? [slot, slot + 1] : [slot])),
  )
  const mustLoadFirst = (node: Node) => node.operation === 'slot' && stored.has(node.index)
  const named = namedNodes(roots, mustLoadFirst)
  const items: Item[] = []
  const emitted = new Set<Node>()
  const name = (nodes: readonly Node[]) => {
    for (const node of nodes) {
      emitted.add(node)
      items.push({ does: 'name', node, reads: namesRead(node.operands, named) })
    }
  }
  name([...named].filter(mustLoadFirst).sort(byAge))
  for (const root of roots) {
    name(namedBelow(root.value, named, emitted))
    items.push({ does: 'finish', root, reads: namesRead([root.value], named) })
  }
  const chunks = cut(items)
  return { chunks, named, crossing: crossingNodes(chunks, mustLoadFirst) }
}

function namesRead(starts: readonly Operand[], named: ReadonlySet<Node>): Set<Node> {
  const read = new Set<Node>()
  const pending = [...starts]
  while (pending.length > 0) {
    const next = pending.pop()!
    if (!isNode(next)) continue
    if (named.has(next)) read.add(next)
    else pending.push(...next.operands)
  }
  return read
}

/** How often each node is used by the values and by one another. */
export function useCounts(values: readonly Operand[]): Map<Node, number> {
  const uses = new Map<Node, number>()
  const pending = [...values]
  while (pending.length > 0) {
    const next = pending.pop()!
    if (!isNode(next)) continue
    const count = uses.get(next) ?? 0
    uses.set(next, count + 1)
    if (count === 0) pending.push(...next.operands)
  }
  return uses
}

function namedNodes(roots: readonly Root[], always: (node: Node) => boolean): Set<Node> {
  const uses = useCounts(roots.map((root) => root.value))
  return new Set(
    [...uses].filter(([node, count]) => node.operation !== 'argument' && (count > 1 || always(node))).map(([node]) => node),
  )
}

function namedBelow(root: Operand, named: ReadonlySet<Node>, emitted: ReadonlySet<Node>): Node[] {
  const found = new Set<Node>()
  const seen = new Set<Node>()
  const pending = [root]
  while (pending.length > 0) {
    const next = pending.pop()!
    if (!isNode(next) || seen.has(next) || emitted.has(next)) continue
    seen.add(next)
    if (named.has(next)) found.add(next)
    pending.push(...next.operands)
  }
  return [...found].sort(byAge)
}

function cut(items: readonly Item[]): Item[][] {
  const chunks: Item[][] = [[]]
  let names = 0
  for (const item of items) {
    if (item.does === 'name' && ++names > namesPerChunk) {
      names = 1
      chunks.push([])
    }
    chunks[chunks.length - 1]!.push(item)
  }
  return chunks
}

function crossingNodes(chunks: readonly (readonly Item[])[], kept: (node: Node) => boolean): Node[] {
  const home = new Map<Node, number>()
  const crossing = new Set<Node>()
  chunks.forEach((items, chunk) => {
    for (const item of items) {
      if (item.does === 'name') home.set(item.node, chunk)
      for (const node of item.reads) {
        const plainSlot = node.operation === 'slot' && !kept(node)
        if (home.get(node) !== chunk && !plainSlot) crossing.add(node)
      }
    }
  })
  return [...crossing]
}

function byAge(a: Node, b: Node): number {
  return a.id - b.id
}
