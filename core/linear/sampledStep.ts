import { add, mul, sum } from '../expression'
import type { Scalar } from '../expression'
import type { StateSpace } from './stateSpace'

/** One sample of a sampled system from states and inputs, over numbers or expressions: what it shows, and its next states. */
export function sampledStep(
  { a, b, c, d }: Pick<StateSpace, 'a' | 'b' | 'c' | 'd'>,
  states: readonly Scalar[],
  inputs: readonly Scalar[],
): { readonly outputs: readonly Scalar[]; readonly next: readonly Scalar[] } {
  const along = (row: readonly number[], values: readonly Scalar[]) => sum(row.map((factor, k) => mul(factor, values[k]!)))
  const rows = (byState: StateSpace['a'], byInput: StateSpace['b']) =>
    byState.map((row, i) => add(along(row, states), along(byInput[i]!, inputs)))
  return { outputs: rows(c, d), next: rows(a, b) }
}
