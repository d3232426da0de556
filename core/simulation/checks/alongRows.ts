import { Graph, assign, loadModule, printWasm } from '../../expression'
import type { LoadedModule, NumberNode, Scalar } from '../../expression'
import { remembered } from '../../document'
import { Layout, slotOf } from '../layout'

/** What is worked out at a row, and what it leaves for the next. */
export interface AtRow {
  readonly value: Scalar
  readonly kept?: Scalar
}

interface Stepped {
  readonly module: LoadedModule
  /** Slots of the inputs of each row of a block, and of what is found there. */
  readonly inputs: readonly (readonly number[])[]
  readonly values: readonly number[]
  readonly kept: number
}

/** By what they work out: a run has thousands of rows, and is judged with every edit of its checks. */
const modules = new Map<string, Stepped>()
const mostModules = 200
/** Rows in one call of a module. */
const block = 16

/**
 * A value at every row from those of some columns, compiled. `key` says all that `build` depends on; `kept` is what the row
 * before left, 0 at first.
 */
export function alongRows(
  key: string,
  columns: readonly Float64Array[],
  rows: number,
  build: (inputs: readonly NumberNode[], kept: NumberNode) => AtRow,
): Float64Array {
  const { module, inputs, values, kept } = remembered(modules, mostModules, key, () => stepped(columns.length, build))
  const found = new Float64Array(rows)
  const memory = module.memory()
  memory[kept] = 0
  for (let first = 0; first < rows; first += block) {
    const count = Math.min(block, rows - first)
    for (let i = 0; i < columns.length; i++) {
      const column = columns[i]!
      for (let k = 0; k < count; k++) memory[inputs[k]![i]!] = column[first + k]!
    }
    module.call('rows')
    for (let k = 0; k < count; k++) found[first + k] = memory[values[k]!]!
  }
  return found
}

function stepped(count: number, build: (inputs: readonly NumberNode[], kept: NumberNode) => AtRow): Stepped {
  const layout = new Layout(new Graph())
  const [kept] = layout.many(1) as [NumberNode]
  const rows = Array.from({ length: block }, () => ({ inputs: layout.many(count), value: layout.one() }))
  const body = rows.map(({ inputs, value }) => {
    const made = build(inputs, kept)
    return assign([
      { slot: slotOf(value), value: made.value },
      { slot: slotOf(kept), value: made.kept ?? 0 },
    ])
  })
  return {
    module: loadModule(printWasm({ slots: layout.slots, procedures: [{ name: 'rows', body }] })),
    inputs: rows.map(({ inputs }) => inputs.map(slotOf)),
    values: rows.map(({ value }) => slotOf(value)),
    kept: slotOf(kept),
  }
}
