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
  readonly inputs: readonly number[]
  readonly value: number
  readonly kept: number
}

/** By what they work out: a run has thousands of rows, and is judged with every edit of its checks. */
const modules = new Map<string, Stepped>()
const mostModules = 200

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
  const { module, inputs, value, kept } = remembered(modules, mostModules, key, () => stepped(columns.length, build))
  const found = new Float64Array(rows)
  const memory = module.memory()
  memory[kept] = 0
  for (let row = 0; row < rows; row++) {
    inputs.forEach((slot, i) => (memory[slot] = columns[i]![row]!))
    module.call('row')
    found[row] = memory[value]!
  }
  return found
}

function stepped(count: number, build: (inputs: readonly NumberNode[], kept: NumberNode) => AtRow): Stepped {
  const layout = new Layout(new Graph())
  const inputs = layout.many(count)
  const [value, kept] = layout.many(2) as [NumberNode, NumberNode]
  const made = build(inputs, kept)
  const values = [
    { slot: slotOf(value), value: made.value },
    { slot: slotOf(kept), value: made.kept ?? 0 },
  ]
  const module = loadModule(printWasm({ slots: layout.slots, procedures: [{ name: 'row', body: [assign(values)] }] }))
  return { module, inputs: inputs.map(slotOf), value: slotOf(value), kept: slotOf(kept) }
}
