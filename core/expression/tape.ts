import { isNode, isWide, nodesBelow } from './graph'
import type { NumberNode, Operand, Scalar } from './graph'
import { localSlope } from './derivative'
import { folded } from './rebuild'

/** Expressions laid out in a row, to be worked out at many points with numbers alone: what Newton's method does all day. */
export interface Tape {
  /** Their values where `at[i]` stands for slot i. */
  values(at: ArrayLike<number>): number[]
  /** jacobian[i][j] = derivative of expression i with respect to slots[j] there: exact. All columns go through together. */
  jacobian(slots: readonly number[], at: ArrayLike<number>): number[][]
}

/** Operations that are worked out without a detour: they are most of any machine. */
const codes = { other: 0, slot: 1, add: 2, subtract: 3, multiply: 4, divide: 5, negate: 6 } as const

/** Expressions of one graph, without pairs of values in one. */
export function tapeOf(expressions: readonly Scalar[]): Tape {
  const nodes = nodesBelow(expressions)
  if (nodes.some(isWide)) throw new Error('Derivatives at a point are taken of single values.')
  const places = new Int32Array((nodes.at(-1)?.id ?? -1) + 1)
  nodes.forEach(({ id }, k) => (places[id] = k))
  const constants: number[] = []
  const placeOf = (operand: Operand): number => {
    if (isNode(operand)) return places[operand.id]!
    return nodes.length + constants.push(Number(operand)) - 1 // a truth that is known counts as 0 or 1
  }
  const code = new Uint8Array(nodes.length)
  const operands = nodes.map((node) => node.operands.map(placeOf))
  const [first, second] = [new Int32Array(nodes.length), new Int32Array(nodes.length)]
  nodes.forEach(({ operation }, k) => {
    code[k] = codes[operation as keyof typeof codes] ?? codes.other
    first[k] = operands[k]![0] ?? -1
    second[k] = operands[k]![1] ?? -1
  })
  const results = expressions.map(placeOf)
  const cells = new Float64Array(nodes.length + constants.length)
  cells.set(constants, nodes.length)
  let pool = new Float64Array(0)

  /** What stands for an operand: its number, or its truth. */
  const standing = (operand: Operand): Operand => {
    if (!isNode(operand)) return operand
    const value = cells[places[operand.id]!]!
    return operand.sort === 'flag' ? value !== 0 : value
  }
  const run = (at: ArrayLike<number>) => {
    for (let k = 0; k < nodes.length; k++) {
      switch (code[k]) {
        case codes.slot:
          cells[k] = at[(nodes[k] as NumberNode).index]!
          break
        case codes.add:
          cells[k] = cells[first[k]!]! + cells[second[k]!]!
          break
        case codes.subtract:
          cells[k] = cells[first[k]!]! - cells[second[k]!]!
          break
        case codes.multiply:
          cells[k] = cells[first[k]!]! * cells[second[k]!]!
          break
        case codes.divide:
          cells[k] = cells[first[k]!]! / cells[second[k]!]!
          break
        case codes.negate:
          cells[k] = -cells[first[k]!]!
          break
        default:
          cells[k] = Number(folded(nodes[k]!, nodes[k]!.operands.map(standing)))
      }
    }
  }
  /** The slope of node k by one of its operands. */
  const slope = (k: number, by: 0 | 1 | 2): number => {
    switch (code[k]) {
      case codes.add:
        return 1
      case codes.subtract:
        return by === 0 ? 1 : -1
      case codes.negate:
        return -1
      case codes.multiply:
        return cells[by === 0 ? second[k]! : first[k]!]!
      case codes.divide:
        return by === 0 ? 1 / cells[second[k]!]! : -cells[k]! / cells[second[k]!]!
      default:
        return localSlope(nodes[k] as NumberNode, by, standing)
    }
  }
  return {
    values: (at) => {
      run(at)
      return results.map((place) => cells[place]!)
    },
    jacobian: (slots, at) => {
      run(at)
      const columns = slots.length
      if (pool.length < nodes.length * columns) pool = new Float64Array(nodes.length * columns)
      // a node that depends on none of the slots has no row
      const rows = new Int32Array(cells.length).fill(-1)
      let taken = 0
      for (let k = 0; k < nodes.length; k++) {
        const node = nodes[k]!
        if (node.sort === 'flag') continue
        if (code[k] === codes.slot) {
          const column = slots.indexOf(node.index)
          if (column < 0) continue
          pool.fill(0, taken, taken + columns)
          pool[taken + column] = 1
          rows[k] = taken
          taken += columns
          continue
        }
        const mine = operands[k]!
        for (let i = 0; i < mine.length; i++) {
          const from = rows[mine[i]!]!
          if (from < 0) continue
          const share = slope(k, i as 0 | 1 | 2)
          if (share === 0) continue
          if (rows[k]! < 0) {
            pool.fill(0, taken, taken + columns)
            rows[k] = taken
            taken += columns
          }
          const to = rows[k]!
          for (let j = 0; j < columns; j++) {
            const own = pool[from + j]!
            if (own !== 0) pool[to + j]! += share * own
          }
        }
      }
      return results.map((place) => {
        const from = rows[place]!
        return from < 0 ? new Array<number>(columns).fill(0) : Array.from(pool.subarray(from, from + columns))
      })
    },
  }
}

/**
 * The Jacobian of expressions at one point, as numbers: exact derivatives without building their expressions, which for a
 * large machine takes longer than everything else. `values[i]` stands for slot i.
 */
export function jacobianAt(expressions: readonly Scalar[], slots: readonly number[], values: ArrayLike<number>): number[][] {
  return tapeOf(expressions).jacobian(slots, values)
}
