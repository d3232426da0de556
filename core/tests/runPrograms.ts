import { expect } from 'vitest'
import { loadModule, printTwin, printWasm } from '../expression'
import type { Code } from '../expression'

/** All slots after a procedure ran, the first of them set before. */
export function runWasm(code: Code, values: readonly number[], procedure = 'go'): Float64Array {
  const module = loadModule(printWasm(code))
  module.memory().set(values)
  module.call(procedure)
  return module.memory().slice(0, code.slots)
}

/** The same of the program for two states at once: both lanes of every slot. */
export function runTwin(code: Code, first: readonly number[], second: readonly number[]): [Float64Array, Float64Array] {
  const module = loadModule(printTwin(code))
  const memory = module.memory()
  first.forEach((value, i) => memory.set([value, second[i]!], 2 * i))
  module.call('go')
  const lane = (of: 0 | 1) => Float64Array.from({ length: code.slots }, (_, i) => memory[2 * i + of]!)
  return [lane(0), lane(1)]
}

export function expectSameBits(actual: Float64Array, expected: Float64Array): void {
  expect([...actual]).toEqual([...expected]) // toEqual tells -0 from 0 and takes NaN as equal to NaN
}
