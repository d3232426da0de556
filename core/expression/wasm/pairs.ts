import { both, isNode } from '../graph'
import { useCounts } from '../schedule'
import { vectorOperations } from './vector'
import type { Graph, Node, NumberNode, Operand, Scalar } from '../graph'
import type { Assignment } from '../procedure'

/**
 * Splits lowered assignments into pairs that can be computed two at a time, with the same bits, and the rest. Pairs
 * hold only slots, constants and plain operations that nothing else needs, and no one else reads what they store: so
 * they can go first. Integrators' updates of their states are of this form. In the rest, what was computed two at a
 * time and goes to neighbouring slots is stored as one.
 */
export function splitPairs(values: readonly Assignment[]): { pairs: Assignment[]; rest: Assignment[] } {
  const readers = readersOfSlots(values)
  const uses = useCounts(values.map(({ value }) => value))
  const pairs: Assignment[] = []
  const rest: Assignment[] = []
  for (let i = 0; i < values.length; i++) {
    const [a, b] = [values[i]!, values[i + 1]]
    const readByOthers = (slot: number) => [...(readers.get(slot) ?? [])].some((reader) => reader !== i && reader !== i + 1)
    if (b === undefined || b.slot !== a.slot + 1) {
      rest.push(a)
      continue
    }
    const whole = wholeOf(a.value, b.value)
    if (whole !== undefined) {
      rest.push({ slot: a.slot, value: whole })
      i++
    } else if (isNode(a.value) && isAlike(a.value, b.value, uses) && !readByOthers(a.slot) && !readByOthers(b.slot)) {
      pairs.push({ slot: a.slot, value: joined(a.value.graph, a.value, b.value) })
      i++
    } else rest.push(a)
  }
  return { pairs, rest }
}

/** What both lanes were taken from. */
function wholeOf(a: Scalar, b: Scalar): Scalar | undefined {
  if (!isNode(a) || !isNode(b) || a.operation !== 'lane' || b.operation !== 'lane') return undefined
  return a.index === 0 && b.index === 1 && a.operands[0] === b.operands[0] ? (a.operands[0] as Scalar) : undefined
}

/** Two alike expressions as one of both. */
function joined(graph: Graph, a: Scalar, b: Scalar): Scalar {
  if (!isNode(a) || a.operation === 'slot') return both(graph, a, b)
  const operands = a.operands.map((operand, i) => joined(graph, operand as Scalar, (b as NumberNode).operands[i] as Scalar))
  return graph.number(a.operation, operands)
}

function isAlike(a: Operand, b: Operand, uses: ReadonlyMap<Node, number>): boolean {
  if (typeof a === 'number' && typeof b === 'number') return true
  if (!isNode(a) || !isNode(b) || a.operation !== b.operation) return false
  if (a.operation === 'slot') return a === b || (b as NumberNode).index === (a as NumberNode).index + 1
  if (vectorOperations[a.operation] === undefined || uses.get(a) !== 1 || uses.get(b) !== 1) return false
  return a.operands.every((operand, i) => isAlike(operand, b.operands[i]!, uses))
}

/** Which of the values read a slot that one of them stores. */
function readersOfSlots(values: readonly Assignment[]): Map<number, Set<number>> {
  const stored = new Set(values.map(({ slot }) => slot))
  const readers = new Map<number, Set<number>>()
  values.forEach(({ value }, reader) => {
    const seen = new Set<Node>()
    const pending: Operand[] = [value]
    while (pending.length > 0) {
      const next = pending.pop()!
      if (!isNode(next) || seen.has(next)) continue
      seen.add(next)
      if (next.operation === 'slot') {
        const { index } = next as NumberNode
        if (stored.has(index)) readers.set(index, (readers.get(index) ?? new Set()).add(reader))
      }
      pending.push(...next.operands)
    }
  })
  return readers
}
