import { jacobianAt } from '../expression'
import type { Scalar } from '../expression'
import { multiply } from '../algebra'
import type { Matrix } from '../algebra'
import type { StateSpace } from './stateSpace'

export interface LinearizationRequest {
  readonly rates: readonly Scalar[]
  readonly outputs: readonly Scalar[]
  readonly stateSlots: readonly number[]
  readonly inputSlots: readonly number[]
  /** Values of all slots at the operating point. */
  readonly at: ArrayLike<number>
  readonly names: Pick<StateSpace, 'states' | 'inputs' | 'outputs'>
}

/** The exact linear form about a point: derivatives of the graph, evaluated there. */
export function linearize({ rates, outputs, stateSlots, inputSlots, at, names }: LinearizationRequest): StateSpace {
  const block = (of: readonly Scalar[], by: readonly number[]): Matrix => jacobianAt(of, by, at)
  return {
    a: block(rates, stateSlots),
    b: block(rates, inputSlots),
    c: block(outputs, stateSlots),
    d: block(outputs, inputSlots),
    dt: null,
    ...names,
  }
}

/** New coordinates: x = from z, z = to x with to from = 1 (from may have fewer columns than rows). */
export function inCoordinates(system: StateSpace, from: Matrix, to: Matrix, states: readonly string[]): StateSpace {
  return {
    ...system,
    a: multiply(multiply(to, system.a), from),
    b: multiply(to, system.b),
    c: multiply(system.c, from),
    states,
  }
}
