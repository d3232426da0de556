import { isNode } from '../graph'
import type { Node, NumberNode, Operand, Scalar } from '../graph'
import { useCounts } from '../schedule'
import type { Assignment } from '../procedure'

/** Operations of two doubles at once: W3C WebAssembly Core Specification 2.0, vector instructions behind the prefix 0xfd. */
const vectorOperations: Readonly<Record<string, number>> = {
  absolute: 0xec,
  negate: 0xed,
  squareRoot: 0xef,
  add: 0xf0,
  subtract: 0xf1,
  multiply: 0xf2,
  divide: 0xf3,
  minimum: 0xf4,
  maximum: 0xf5,
}

/** Two values of the same shape for neighbouring slots: `slot` and `slot + 1`. */
export interface Pair {
  readonly slot: number
  readonly first: Scalar
  readonly second: Scalar
}

/** What a pair is printed from, in stack order. */
export type PairStep =
  | { readonly does: 'load' | 'loadTwice'; readonly slot: number }
  | { readonly does: 'constant'; readonly values: readonly [number, number] }
  | { readonly does: 'operate'; readonly code: number }

/**
 * Splits lowered assignments into pairs that can be computed two at a time, with the same bits, and the rest. Pairs
 * hold only slots, constants and plain operations that nothing else needs, and no one else reads what they store: so
 * they can go first. Integrators' updates of their states are of this form.
 */
export function splitPairs(values: readonly Assignment[]): { pairs: Pair[]; rest: Assignment[] } {
  const readers = readersOfSlots(values)
  const uses = useCounts(values.map(({ value }) => value))
  const pairs: Pair[] = []
  const rest: Assignment[] = []
  for (let i = 0; i < values.length; i++) {
    const [a, b] = [values[i]!, values[i + 1]]
    const readByOthers = (slot: number) => [...(readers.get(slot) ?? [])].some((reader) => reader !== i && reader !== i + 1)
    const fits =
      b !== undefined &&
      b.slot === a.slot + 1 &&
      isNode(a.value) &&
      isAlike(a.value, b.value, uses) &&
      !readByOthers(a.slot) &&
      !readByOthers(b.slot)
    if (fits) pairs.push({ slot: a.slot, first: a.value, second: values[++i]!.value })
    else rest.push(a)
  }
  return { pairs, rest }
}

export function pairSteps({ first, second }: Pair): PairStep[] {
  const steps: PairStep[] = []
  const visit = (a: Operand, b: Operand) => {
    if (!isNode(a) || !isNode(b)) {
      steps.push({ does: 'constant', values: [a as number, b as number] })
    } else if (a.operation === 'slot') {
      const { index } = a as NumberNode
      steps.push({ does: a === b ? 'loadTwice' : 'load', slot: index })
    } else {
      a.operands.forEach((operand, i) => visit(operand, b.operands[i]!))
      steps.push({ does: 'operate', code: vectorOperations[a.operation]! })
    }
  }
  visit(first, second)
  return steps
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
