import { add, graphOf, isNode, isWide, nodesBelow } from './graph'
import type { Flag, Node, NumberNode, Operand, Scalar } from './graph'
import { slopesAlong } from './derivative'
import type { Assignment, Code, Statement } from './procedure'
import { Rebuilder } from './rebuild'

/**
 * A program that carries beside every number how it changes along one direction of the numbers that it starts from: exact,
 * operation by operation, loops and branches as they are taken. At a switch it has the slope of the branch taken.
 */
export interface TangentCode {
  readonly code: Code
  /** The slope of slot s stands in slot `slopes + s`; 0 wherever nothing varies. */
  readonly slopes: number
  /** What is copied to where a slot points has its slopes copied so many slots further on, as this slot says. */
  readonly distance: number
}

/**
 * `varied` are the slots that a direction may move, `still` those that are taken as they come, such as the length of the next
 * step. Memory from `slopes` on begins as 0, but for the direction itself.
 */
export function tangentOf(
  { slots, procedures }: Code,
  varied: readonly number[],
  still: ReadonlySet<number> = new Set(),
): TangentCode {
  const single = singly(procedures.flatMap(({ body }) => expressionsIn(body)))
  const assigned = procedures
    .flatMap(({ body }) => assignmentsIn(body))
    .map(({ slot, value }) => ({ slot, value: single(value) }))
  const active = activeSlots([...assigned, ...procedures.flatMap(({ body }) => copiesIn(body))], varied, still)
  const graph = graphOf(assigned.map(({ value }) => value))
  if (graph === undefined) throw new Error('A program that reads nothing has no slopes.')
  const seeds = new Map([...active].map((slot) => [slot, graph.slot(slots + slot)]))
  const values = [...new Set(assigned.map(({ value }) => value))]
  const slopes = new Map(slopesAlong(values, seeds).map((slope, i) => [values[i]!, slope]))
  const distance = 2 * slots
  const tangents = (body: readonly Statement[]): Statement[] =>
    body.flatMap((one): Statement[] => {
      switch (one.does) {
        case 'assign':
          return [
            {
              does: 'assign',
              values: one.values.flatMap(({ slot, value: given }): Assignment[] => {
                const value = single(given)
                const own = { slot, value }
                return active.has(slot) ? [own, { slot: slots + slot, value: slopes.get(value)! }] : [own]
              }),
            },
          ]
        case 'when':
          return [{ ...one, then: tangents(one.then), otherwise: tangents(one.otherwise) }]
        case 'while':
          return [{ ...one, body: tangents(one.body) }]
        case 'call':
          return [one]
        case 'copy':
          return [
            one,
            {
              ...one,
              from: slots + one.from,
              to: typeof one.to === 'number' ? slots + one.to : add(one.to, graph.slot(distance)),
            },
          ]
      }
    })
  const code = {
    slots: distance + 1,
    procedures: procedures.map(({ name, body }) => ({ name, body: tangents(body) })),
  }
  return { code, slopes: slots, distance }
}

/** What is left of two values in one is each of its own: slopes of a switch are taken one by one. */
function singly(expressions: readonly Operand[]): (value: Scalar) => Scalar {
  if (!nodesBelow(expressions).some(isWide)) return (value) => value
  const split = new Rebuilder(
    (node) => node,
    (node, operands) => node.graph.number(node.operation, operands),
  )
  return (value) => split.number(value)
}

/** Steps without a slope: what goes into them does not come out of their tangent. */
const flat: ReadonlySet<NumberNode['operation']> = new Set([
  ...(['floor', 'nearest', 'exponent', 'significand', 'powerOfTwo', 'highPart'] as const),
  ...(['lookup', 'uniform', 'callIf', 'argument'] as const),
])

/** Something that a program does to memory. */
type Moved = Assignment | { readonly slot: number; readonly from: number }

/** Slots that may move with those that are varied, by what they are worked out from. */
function activeSlots(moved: readonly Moved[], varied: readonly number[], still: ReadonlySet<number>): ReadonlySet<number> {
  const active = new Set(varied)
  const nodes = nodesBelow(moved.flatMap((one) => ('from' in one ? [] : [one.value])))
  const moves = new Set<Node>()
  const isMoving = (node: Node): boolean => {
    if (node.sort === 'flag' || flat.has(node.operation)) return false
    return node.operation === 'slot' ? active.has(node.index) : node.operands.some((one) => isNode(one) && moves.has(one))
  }
  for (let before = 0; before < active.size;) {
    before = active.size
    for (const node of nodes) if (!moves.has(node) && isMoving(node)) moves.add(node)
    for (const one of moved) {
      const isMoved = 'from' in one ? active.has(one.from) : isNode(one.value) && moves.has(one.value)
      if (isMoved && !still.has(one.slot)) active.add(one.slot)
    }
  }
  return active
}

/** What is copied within memory, slot by slot; rows of a record are read by nobody inside. */
function copiesIn(body: readonly Statement[]): readonly Moved[] {
  return body.flatMap((one) => {
    switch (one.does) {
      case 'copy': {
        const { from, count, to } = one
        return typeof to === 'number' ? Array.from({ length: count }, (_, i) => ({ slot: to + i, from: from + i })) : []
      }
      case 'when':
        return [...copiesIn(one.then), ...copiesIn(one.otherwise)]
      case 'while':
        return copiesIn(one.body)
      case 'assign':
      case 'call':
        return []
    }
  })
}

function assignmentsIn(body: readonly Statement[]): readonly Assignment[] {
  return body.flatMap((one) => {
    switch (one.does) {
      case 'assign':
        return one.values
      case 'when':
        return [...assignmentsIn(one.then), ...assignmentsIn(one.otherwise)]
      case 'while':
        return assignmentsIn(one.body)
      case 'call':
      case 'copy':
        return []
    }
  })
}

function expressionsIn(body: readonly Statement[]): readonly (Scalar | Flag)[] {
  return assignmentsIn(body).map(({ value }) => value)
}
